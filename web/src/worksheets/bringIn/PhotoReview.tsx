import { type Block, type Box, type WorksheetContent, pageBlocks, proposeSpaces } from '@gavrin/core'
import { useEffect, useReducer, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { newId } from '../../editor/document'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import { PictureProblem, openPicture } from '../../workers/pages'
import type { Medium } from '../queries'
import { FinishForm } from './FinishForm'
import { PhotoPage } from './PhotoPage'
import { type PhotoState, newPhoto } from './photoState'
import { type Upload, fileOf } from './queries'

/** A page's width where nothing says how wide it was, in millimetres. */
const PAGE_WIDTH = 210

/** Photographs of pages: straightened, cleaned, read, and put together to a worksheet. */
export default function PhotoReview({ upload }: { readonly upload: Upload }) {
  const [pages, setPages] = useState<readonly PhotoState[]>([])
  const [at, setAt] = useState(0)
  const [problem, setProblem] = useState<string | null>(null)
  const [content, setContent] = useState<WorksheetContent | null>(null)
  const [busy, begin] = useReducer((_: boolean, next: boolean) => next, false)
  const more = useRef<HTMLInputElement>(null)
  const add = async (files: readonly Blob[]) => {
    for (const file of files) {
      try {
        const picture = await openPicture(file)
        setPages((before) => [...before, newPhoto(file, picture.width, picture.height)])
        picture.close()
      } catch (error) {
        setProblem(error instanceof PictureProblem ? error.message : sentenceOf(error))
      }
    }
  }
  useEffect(() => {
    let isHere = true
    void fileOf(upload.id)
      .then(async (file) => {
        if (isHere) await add([file])
      })
      .catch((error: unknown) => isHere && setProblem(sentenceOf(error)))
    return () => {
      isHere = false
      setPages([])
    }
  }, [upload.id])
  const change = (key: string, part: Partial<PhotoState>) =>
    setPages((before) => before.map((page) => (page.key === key ? { ...page, ...part } : page)))
  const put = async () => {
    begin(true)
    setProblem(null)
    try {
      const blocks: Block[] = []
      for (const [index, page] of pages.entries()) {
        if (index > 0 && page.way === 'text') blocks.push({ id: newId(), kind: 'page break' })
        blocks.push(...(await blocksOf(page, upload.id)))
      }
      const read: WorksheetContent = { version: 2, page: 'A4', source: '', blocks }
      setContent(proposeSpaces(read, newId))
    } catch (error) {
      setProblem(sentenceOf(error))
    } finally {
      begin(false)
    }
  }
  if (content)
    return (
      <FinishForm upload={upload} title={titleOf(content)} content={content} notes={[]}>
        <Button type="button" variant="link" className="px-0 mb-3" onClick={() => setContent(null)}>
          Back to the pictures
        </Button>
      </FinishForm>
    )
  const page = pages[Math.min(at, pages.length - 1)]
  const ready = pages.length > 0 && pages.every(({ cleaned, way, blocks }) => cleaned && (way === 'backdrop' || blocks))
  return (
    <div className="photo">
      {problem && <Notice kind="bad">{problem}</Notice>}
      <div className="photo-line">
        {pages.length > 1 && (
          <Form.Select
            size="sm"
            aria-label="Page"
            value={at}
            onChange={({ target }) => setAt(Number(target.value))}
            className="w-auto"
          >
            {pages.map(({ key }, index) => (
              <option key={key} value={index}>
                page {index + 1} of {pages.length}
              </option>
            ))}
          </Form.Select>
        )}
        <Button size="sm" variant="outline-dark" onClick={() => more.current?.click()}>
          Add a page
        </Button>
        {pages.length > 1 && page && (
          <Button
            size="sm"
            variant="link"
            onClick={() => {
              setPages(pages.filter(({ key }) => key !== page.key))
              setAt(0)
            }}
          >
            Take this page out
          </Button>
        )}
        <input
          ref={more}
          type="file"
          hidden
          multiple
          accept="image/*"
          aria-label="More photographs"
          onChange={({ target }) => {
            const files = [...(target.files ?? [])]
            target.value = ''
            setAt(pages.length)
            void add(files)
          }}
        />
        <span className="page-acts">
          <Button onClick={() => void put()} disabled={!ready || busy}>
            {busy ? 'One moment …' : 'Make the worksheet'}
          </Button>
        </span>
      </div>
      {page && <PhotoPage key={page.key} page={page} uploadId={upload.id} change={(part) => change(page.key, part)} />}
    </div>
  )
}

async function blocksOf(page: PhotoState, uploadId: string): Promise<Block[]> {
  const { cleaned } = page
  if (!cleaned) return []
  if (page.way === 'backdrop') {
    const medium = await api.post<Medium>(
      `bring-in/${uploadId}/media`,
      new Uint8Array(await cleaned.blob.arrayBuffer()),
    )
    const height = Math.min(2_000, Math.max(30, Math.round((PAGE_WIDTH * medium.height) / medium.width)))
    return [{ id: newId(), kind: 'backdrop', media: medium.id, alt: '', width: PAGE_WIDTH, height, spaces: [] }]
  }
  return pageBlocks(
    [
      ...(page.blocks ?? []).map(({ is, text, box }) => ({ is, text, box })),
      ...page.figures.map(({ medium, box }: { medium: Medium; box: Box }) => ({
        is: 'figure' as const,
        media: medium.id,
        width: medium.width,
        height: medium.height,
        box,
      })),
      ...page.places.map((place) => ({ is: 'place' as const, place })),
    ],
    newId,
  )
}

function titleOf({ blocks }: WorksheetContent): string {
  for (const block of blocks)
    if (block.kind === 'text' && block.rich.type === 'heading')
      return (block.rich.content?.[0]?.text ?? '').slice(0, 200)
  return ''
}
