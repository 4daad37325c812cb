import { type WorksheetContent, proposeSpaces, readPageTexts } from '@gavrin/core'
import { useEffect, useRef, useState } from 'react'
import { Button, Form, ProgressBar } from 'react-bootstrap'
import { newId } from '../../editor/document'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import type { Medium } from '../queries'
import { FinishForm } from './FinishForm'
import { type OpenPdf, PdfProblem, openPdf } from './pdf'
import { type Upload, fileOf } from './queries'

/** Pages of a long PDF that are chosen at first. */
const AT_FIRST = 5

type Way = 'text' | 'backdrop'

interface Made {
  readonly title: string
  readonly content: WorksheetContent
  readonly notes: readonly string[]
}

/** A PDF: which pages, and whether as text to edit or as pages to lay answer spaces on. */
export default function PdfReview({ upload }: { readonly upload: Upload }) {
  const [pdf, setPdf] = useState<OpenPdf | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [way, setWay] = useState<Way>('text')
  const [hasText, setHasText] = useState(true)
  const [done, setDone] = useState<number | null>(null)
  const [made, setMade] = useState<Made | null>(null)
  const stop = useRef(false)
  useEffect(() => {
    let isHere = true
    let opened: OpenPdf | null = null
    void (async () => {
      try {
        opened = await openPdf(await fileOf(upload.id))
        if (!isHere) return opened.close()
        setPdf(opened)
        setChosen(new Set(Array.from({ length: Math.min(opened.pages, AT_FIRST) }, (_, at) => at + 1)))
        const text = await opened.text(1)
        if (text.every(({ text: words }) => !words.trim())) {
          setHasText(false)
          setWay('backdrop')
        }
      } catch (error) {
        if (isHere) setProblem(error instanceof PdfProblem ? error.message : sentenceOf(error))
      }
    })()
    return () => {
      isHere = false
      opened?.close()
    }
  }, [upload.id])
  if (problem) return <Notice kind="bad">{problem}</Notice>
  if (!pdf) return <p className="loading">opening the PDF …</p>
  if (made)
    return (
      <FinishForm upload={upload} {...made}>
        <Button type="button" variant="link" className="px-0 mb-3" onClick={() => setMade(null)}>
          Choose other pages
        </Button>
      </FinishForm>
    )
  const pages = [...chosen].sort((one, other) => one - other)
  const make = async () => {
    stop.current = false
    setDone(0)
    try {
      setMade(
        await (way === 'text'
          ? asText(pdf, pages, setDone, () => stop.current)
          : asBackdrops(pdf, pages, upload.id, setDone, () => stop.current)),
      )
    } catch (error) {
      if (!(error instanceof Stopped)) setProblem(error instanceof PdfProblem ? error.message : sentenceOf(error))
    } finally {
      setDone(null)
    }
  }
  return (
    <div className="review-columns">
      <div className="review-form">
        <fieldset>
          <legend>How</legend>
          <Form.Check
            type="radio"
            id="pdf-text"
            name="pdf-way"
            disabled={!hasText}
            label="As text that can be edited"
            checked={way === 'text'}
            onChange={() => setWay('text')}
          />
          <Form.Check
            type="radio"
            id="pdf-backdrop"
            name="pdf-way"
            label="As pages that stay as they look, with answer spaces laid on them"
            checked={way === 'backdrop'}
            onChange={() => setWay('backdrop')}
          />
          {!hasText && <p className="soft">The first page has no text in it: it is a picture of a page.</p>}
        </fieldset>
        {done === null ? (
          <Button disabled={pages.length === 0 || pages.length > 100} onClick={() => void make()}>
            Take {pages.length} {pages.length === 1 ? 'page' : 'pages'}
          </Button>
        ) : (
          <>
            <ProgressBar now={done} max={pages.length} label={`${done} of ${pages.length}`} aria-label="Pages taken" />
            <Button variant="link" onClick={() => (stop.current = true)}>
              Stop
            </Button>
          </>
        )}
        {pages.length > 100 && <p className="bad">Up to 100 pages can be taken at once.</p>}
        <p className="soft">
          {pdf.pages} {pdf.pages === 1 ? 'page' : 'pages'}.{' '}
          <Button
            variant="link"
            onClick={() => setChosen(new Set(Array.from({ length: pdf.pages }, (_, at) => at + 1)))}
          >
            Select all
          </Button>{' '}
          <Button variant="link" onClick={() => setChosen(new Set())}>
            Select none
          </Button>
        </p>
      </div>
      <ul className="pdf-pages">
        {Array.from({ length: pdf.pages }, (_, at) => at + 1).map((page) => (
          <PdfPage
            key={page}
            pdf={pdf}
            page={page}
            isChosen={chosen.has(page)}
            choose={(on) => {
              const next = new Set(chosen)
              if (on) next.add(page)
              else next.delete(page)
              setChosen(next)
            }}
          />
        ))}
      </ul>
    </div>
  )
}

class Stopped extends Error {}

async function asText(
  pdf: OpenPdf,
  pages: readonly number[],
  done: (count: number) => void,
  isStopped: () => boolean,
): Promise<Made> {
  const texts = []
  for (const [at, page] of pages.entries()) {
    if (isStopped()) throw new Stopped()
    texts.push(await pdf.text(page))
    done(at + 1)
  }
  const read = readPageTexts(texts, newId)
  const size = await pdf.size(pages[0]!)
  const isLetter = Math.abs(size.width - 215.9) < 3 && Math.abs(size.height - 279.4) < 3
  return { ...read, content: { ...proposeSpaces(read.content, newId), page: isLetter ? 'Letter' : 'A4' } }
}

async function asBackdrops(
  pdf: OpenPdf,
  pages: readonly number[],
  uploadId: string,
  done: (count: number) => void,
  isStopped: () => boolean,
): Promise<Made> {
  const blocks: WorksheetContent['blocks'][number][] = []
  for (const [at, page] of pages.entries()) {
    if (isStopped()) throw new Stopped()
    const [picture, size, text] = await Promise.all([pdf.picture(page), pdf.size(page), pdf.text(page)])
    const medium = await api.post<Medium>(`bring-in/${uploadId}/media`, new Uint8Array(await picture.arrayBuffer()))
    const alt = text
      .map(({ text: words }) => words)
      .join(' ')
      .replace(/\s+/g, ' ')
      .trim()
    blocks.push({ id: newId(), kind: 'backdrop', media: medium.id, alt: alt.slice(0, 5_000), ...size, spaces: [] })
    done(at + 1)
  }
  const size = await pdf.size(pages[0]!)
  return { title: '', notes: [], content: { version: 2, page: size, source: '', blocks } }
}

interface PageProps {
  readonly pdf: OpenPdf
  readonly page: number
  readonly isChosen: boolean
  readonly choose: (on: boolean) => void
}

function PdfPage({ pdf, page, isChosen, choose }: PageProps) {
  const place = useRef<HTMLLIElement>(null)
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    const element = place.current
    if (!element) return
    let made: string | null = null
    let isHere = true
    // Drawn when it comes into view: there may be hundreds.
    const watcher = new IntersectionObserver(([entry]) => {
      if (!entry?.isIntersecting) return
      watcher.disconnect()
      void pdf.picture(page, 220).then(
        (picture) => {
          if (!isHere) return
          made = URL.createObjectURL(picture)
          setUrl(made)
        },
        () => undefined,
      )
    })
    watcher.observe(element)
    return () => {
      isHere = false
      watcher.disconnect()
      if (made) URL.revokeObjectURL(made)
    }
  }, [pdf, page])
  return (
    <li ref={place} className={isChosen ? 'chosen' : undefined}>
      <label>
        <span className="pdf-picture">{url && <img src={url} alt="" />}</span>
        <Form.Check
          id={`page-${page}`}
          label={`Page ${page}`}
          checked={isChosen}
          onChange={({ target }) => choose(target.checked)}
        />
      </label>
    </li>
  )
}
