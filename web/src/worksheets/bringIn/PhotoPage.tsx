import {
  type Box,
  type Corners,
  type PhotoPage as Page,
  cornersOf,
  freePlaces,
  isSheet,
  readRecognised,
  recognisedText,
} from '@gavrin/core'
import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { Button, Form, ProgressBar } from 'react-bootstrap'
import { newId } from '../../editor/document'
import { TickSetting } from '../../editor/fields'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import { cornersIn, openPicture, placesOn } from '../../workers/pages'
import type { Medium } from '../queries'
import { CornerPicture } from './CornerPicture'
import { ReadText } from './ReadText'
import { type CleanPage, type PhotoFiles, cutOf, isSameCut } from './photoFiles'
import { type Reading, recognise } from './recognise'

interface Props {
  readonly page: Page
  readonly files: PhotoFiles
  readonly uploadId: string
  /** @param deed what is done by and by and is taken back at once; null: nobody's deed */
  readonly change: (part: Partial<Page>, deed?: string | null) => void
}

/** One photograph: first its corners, then what stands on the page. */
export function PhotoPage(props: Props) {
  const { page, files } = props
  const [clean, setClean] = useState<CleanPage | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const { step, picture, cut } = page
  const wanted = step === 'text' ? JSON.stringify([picture, cut]) : null
  useEffect(() => {
    if (!wanted) return
    let isHere = true
    setClean(null)
    setProblem(null)
    files.page({ picture, cut }).then(
      (made) => isHere && setClean(made),
      (error: unknown) => isHere && setProblem(sentenceOf(error)),
    )
    return () => {
      isHere = false
    }
    // The picture and the cut are what is wanted.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [wanted, files])
  if (step === 'corners') return <StraightenPage {...props} />
  if (problem)
    return (
      <Notice kind="bad">
        {problem}{' '}
        <Button variant="link" onClick={() => props.change({ step: 'corners' }, null)}>
          Back to the corners
        </Button>
      </Notice>
    )
  return clean ? <CleanedPage {...props} cleaned={clean} /> : <p className="loading">straightening the page …</p>
}

function StraightenPage({ page, files, change }: Props) {
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    let made: string | null = null
    let isHere = true
    files.picture(page.picture).then(
      (file) => {
        if (isHere) setUrl((made = URL.createObjectURL(file)))
      },
      (error: unknown) => isHere && setProblem(sentenceOf(error)),
    )
    return () => {
      isHere = false
      if (made) URL.revokeObjectURL(made)
    }
  }, [files, page.picture])
  useEffect(() => {
    if (page.found) return
    let isHere = true
    void files
      .picture(page.picture)
      .then(openPicture)
      .then(cornersIn)
      .then(
        (corners) => isHere && change({ corners, found: true }, null),
        () => isHere && change({ found: true }, null),
      )
    return () => {
      isHere = false
    }
    // Found once for each photograph.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [files, page.picture, page.found])
  const whole = cornersOf(page.width, page.height)
  const corners = page.corners ?? whole
  const cut = cutOf(page)
  const isWhole = cut.corners === null
  const isSame = isSameCut(page.cut, cut)
  const isRead = page.blocks !== null || page.figures.length > 0
  const straighten = async () => {
    setBusy(true)
    setProblem(null)
    try {
      await files.page({ picture: page.picture, cut })
      change({ step: 'text', cut, ...(!isSame && { blocks: null, figures: [], places: [] }) })
    } catch (error) {
      setProblem(sentenceOf(error))
    } finally {
      setBusy(false)
    }
  }
  const isSound = isSheet(corners, page)
  return (
    <div className="photo-columns">
      <div className="photo-picture">
        {url && (
          <CornerPicture
            url={url}
            width={page.width}
            height={page.height}
            corners={corners}
            turn={page.turn}
            change={(next: Corners) => change({ corners: next }, `corners of ${page.key}`)}
          />
        )}
      </div>
      <div className="photo-side">
        <h2>Straighten the page</h2>
        <p className="soft" role="status">
          {!page.found
            ? 'looking for the sheet of paper …'
            : isWhole
              ? 'No sheet of paper stands out: the whole picture is taken as the page. Drag the corners if that is wrong.'
              : 'The corners were found. Drag them if they are wrong.'}
        </p>
        <div className="setting-acts">
          <Button size="sm" variant="outline-dark" onClick={() => change({ corners: whole })} disabled={isWhole}>
            Whole picture
          </Button>
          <Button size="sm" variant="outline-dark" onClick={() => change({ turn: (page.turn + 270) % 360 })}>
            Turn left
          </Button>
          <Button size="sm" variant="outline-dark" onClick={() => change({ turn: (page.turn + 90) % 360 })}>
            Turn right
          </Button>
        </div>
        <TickSetting label="Take shadows out and sharpen" value={page.even} change={(even) => change({ even })} />
        {!isSound && <p className="bad">These corners do not frame a page.</p>}
        {problem && <Notice kind="bad">{problem}</Notice>}
        {isRead && !isSame && (
          <Notice kind="look">
            Straightened anew, the page is read anew too: what was read and put right on it goes. “Undo” brings it back.
          </Notice>
        )}
        <Button className="mt-3" onClick={() => void straighten()} disabled={busy || !page.found || !isSound}>
          {busy ? 'straightening …' : page.cut && isSame ? 'Back to the page' : 'Straighten'}
        </Button>
      </div>
    </div>
  )
}

function CleanedPage({ page, uploadId, change, cleaned }: Props & { readonly cleaned: CleanPage }) {
  const [reading, setReading] = useState<Reading | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [cutting, setCutting] = useState(false)
  const stop = useRef<AbortController | null>(null)
  useEffect(() => () => stop.current?.abort(), [])
  const read = async () => {
    const controller = new AbortController()
    stop.current = controller
    setProblem(null)
    setReading({ words: 'getting ready', share: 0 })
    try {
      const picture = await openPicture(cleaned.blob)
      const size = { width: picture.width, height: picture.height }
      const [lines, places] = await Promise.all([
        recognise(cleaned.blob, setReading, controller.signal),
        placesOn(picture),
      ])
      const blocks = readRecognised(lines, size)
      change({
        way: 'text',
        blocks: blocks.map((block) => ({ key: newId(), text: recognisedText(block), ...block })),
        places: freePlaces(
          places,
          blocks.map(({ box }) => box),
        ),
      })
    } catch (error) {
      if (!controller.signal.aborted) setProblem(sentenceOf(error))
    } finally {
      setReading(null)
    }
  }
  const cut = async (box: Box) => {
    setCutting(false)
    try {
      const picture = await openPicture(cleaned.blob)
      const canvas = new OffscreenCanvas(
        Math.max(1, Math.round(box.width * picture.width)),
        Math.max(1, Math.round(box.height * picture.height)),
      )
      canvas.getContext('2d')!.drawImage(picture, -box.x * picture.width, -box.y * picture.height)
      const blob = await canvas.convertToBlob({ type: 'image/png' })
      const medium = await api.post<Medium>(`bring-in/${uploadId}/media`, new Uint8Array(await blob.arrayBuffer()))
      const within = (other: Box) =>
        other.x + other.width / 2 > box.x &&
        other.x + other.width / 2 < box.x + box.width &&
        other.y + other.height / 2 > box.y &&
        other.y + other.height / 2 < box.y + box.height
      // What was read inside a figure is part of the figure.
      change({
        figures: [...page.figures, { medium, box }],
        blocks: (page.blocks ?? []).filter((block) => !within(block.box)),
        places: page.places.filter((place) => !within(place.box)),
      })
    } catch (error) {
      setProblem(sentenceOf(error))
    }
  }
  return (
    <div className="photo-columns">
      <div className="photo-picture">
        <CutPicture page={page} url={cleaned.url} cutting={cutting} cut={(box) => void cut(box)} />
      </div>
      <div className="photo-side">
        <div className="setting-acts">
          <Button size="sm" variant="link" onClick={() => change({ step: 'corners' }, null)}>
            Back to the corners
          </Button>
        </div>
        <Form.Check
          type="radio"
          id="photo-text"
          name="photo-way"
          label="Read the text, to be edited"
          checked={page.way === 'text'}
          onChange={() => change({ way: 'text' })}
        />
        <Form.Check
          type="radio"
          id="photo-backdrop"
          name="photo-way"
          label="Keep the page as it looks, as a backdrop"
          checked={page.way === 'backdrop'}
          onChange={() => change({ way: 'backdrop' })}
        />
        {problem && <Notice kind="bad">{problem}</Notice>}
        {page.way === 'text' && (
          <>
            {reading ? (
              <div className="my-3">
                <ProgressBar now={100 * reading.share} aria-label="Reading the page" />
                <span role="status">{reading.words} …</span>{' '}
                <Button variant="link" onClick={() => stop.current?.abort()}>
                  Stop
                </Button>
              </div>
            ) : (
              <div className="setting-acts">
                <Button variant={page.blocks ? 'outline-dark' : 'primary'} onClick={() => void read()}>
                  {page.blocks ? 'Read again' : 'Read the text'}
                </Button>
                {page.blocks && (
                  <Button variant="outline-dark" aria-pressed={cutting} onClick={() => setCutting(!cutting)}>
                    Cut out a figure
                  </Button>
                )}
              </div>
            )}
            {cutting && <p className="soft">Draw a frame around the figure on the picture.</p>}
            {page.blocks && (
              <ReadText page={page} change={change} mediaUrl={(id) => `/api/bring-in/${uploadId}/media/${id}`} />
            )}
          </>
        )}
      </div>
    </div>
  )
}

interface CutProps {
  readonly page: Page
  readonly url: string
  readonly cutting: boolean
  readonly cut: (box: Box) => void
}

/** The clean page, with what is doubtful on it, and a frame that is drawn around a figure. */
function CutPicture({ page, url, cutting, cut }: CutProps) {
  const place = useRef<HTMLDivElement>(null)
  const [drawn, setDrawn] = useState<Box | null>(null)
  const from = useRef<{ x: number; y: number } | null>(null)
  const at = (event: PointerEvent) => {
    const box = place.current!.getBoundingClientRect()
    const within = (value: number) => Math.min(1, Math.max(0, value))
    return { x: within((event.clientX - box.left) / box.width), y: within((event.clientY - box.top) / box.height) }
  }
  const style = (box: Box) => ({
    left: `${100 * box.x}%`,
    top: `${100 * box.y}%`,
    width: `${100 * box.width}%`,
    height: `${100 * box.height}%`,
  })
  return (
    <div
      ref={place}
      className={cutting ? 'clean-page cutting' : 'clean-page'}
      onPointerDown={(event) => {
        if (!cutting) return
        event.currentTarget.setPointerCapture(event.pointerId)
        from.current = at(event)
      }}
      onPointerMove={(event) => {
        if (!from.current) return
        const now = at(event)
        setDrawn({
          x: Math.min(from.current.x, now.x),
          y: Math.min(from.current.y, now.y),
          width: Math.abs(now.x - from.current.x),
          height: Math.abs(now.y - from.current.y),
        })
      }}
      onPointerUp={() => {
        from.current = null
        if (drawn && drawn.width > 0.02 && drawn.height > 0.02) cut(drawn)
        setDrawn(null)
      }}
    >
      <img src={url} alt="The page, straight and clean" draggable={false} />
      {page.way === 'text' &&
        page.blocks?.map(({ key, box, words }) => (
          <span
            key={key}
            className={words.some(({ doubtful }) => doubtful) ? 'seen doubtful' : 'seen'}
            style={style(box)}
          />
        ))}
      {page.way === 'text' &&
        page.places.map((one, index) => <span key={index} className="seen seen-place" style={style(one.box)} />)}
      {page.figures.map(({ medium, box }) => (
        <span key={medium.id} className="seen seen-figure" style={style(box)} />
      ))}
      {drawn && <span className="seen seen-figure" style={style(drawn)} />}
    </div>
  )
}
