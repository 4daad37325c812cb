import { type Block, type PhotoPage as Page, type WorksheetContent, pageBlocks, proposeSpaces } from '@gavrin/core'
import { useReducer, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { newId } from '../../editor/document'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import type { Medium } from '../queries'
import { FinishForm } from './FinishForm'
import { PhotoPage } from './PhotoPage'
import type { PhotoFiles } from './photoFiles'
import type { Upload } from './queries'
import { usePhotoWork } from './usePhotoWork'

const KEPT = {
  saved: 'saved with this file',
  saving: 'saving …',
  away: 'not saved yet: there is no connection',
  elsewhere: 'not saved',
} as const

/** A page's width where nothing says how wide it was, in millimetres. */
const PAGE_WIDTH = 210

/** Photographs of pages: straightened, cleaned, read, and put together to a worksheet. */
export default function PhotoReview({ upload }: { readonly upload: Upload }) {
  const photos = usePhotoWork(upload.id)
  const { files, state } = photos
  const pages = photos.pages ?? []
  const [at, setAt] = useState(0)
  const [problem, setProblem] = useState<string | null>(null)
  const [content, setContent] = useState<WorksheetContent | null>(null)
  const [busy, begin] = useReducer((_: boolean, next: boolean) => next, false)
  const more = useRef<HTMLInputElement>(null)
  const put = async () => {
    begin(true)
    setProblem(null)
    try {
      const blocks: Block[] = []
      for (const [index, page] of pages.entries()) {
        if (index > 0 && page.way === 'text') blocks.push({ id: newId(), kind: 'page break' })
        blocks.push(...(await blocksOf(page, upload.id, files)))
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
  const shown = Math.min(at, pages.length - 1)
  const page = pages[shown]
  const waiting = pages.filter(({ step, way, blocks }) => step === 'corners' || (way === 'text' && !blocks)).length
  const problems = problem ?? photos.problem
  return (
    <div className="photo">
      {problems && <Notice kind="bad">{problems}</Notice>}
      {state === 'elsewhere' && (
        <Notice kind="bad">
          These photographs were worked on in another window meanwhile. What you do here is not kept.{' '}
          <Button variant="link" onClick={() => void photos.readAnew()}>
            Show what is kept
          </Button>
        </Notice>
      )}
      {!photos.pages && !problems && <p className="loading">opening the photograph …</p>}
      <div className="photo-line">
        {pages.length > 1 && (
          <Form.Select
            size="sm"
            aria-label="Page"
            value={shown}
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
        <Button
          size="sm"
          variant="outline-dark"
          onClick={() => more.current?.click()}
          disabled={!photos.pages || photos.adding > 0}
        >
          {photos.adding > 0 ? 'adding …' : 'Add a page'}
        </Button>
        <Button size="sm" variant="outline-dark" onClick={photos.undo} disabled={!photos.canUndo}>
          Undo
        </Button>
        {pages.length > 1 && page && (
          <Button
            size="sm"
            variant="link"
            onClick={() => {
              photos.takeOut(page.key)
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
            const chosen = [...(target.files ?? [])]
            target.value = ''
            setAt(pages.length)
            void photos.add(chosen)
          }}
        />
        <span className={state === 'away' || state === 'elsewhere' ? 'bad' : 'soft'} role="status">
          {pages.length > 0 && KEPT[state]}
        </span>
        <span className="page-acts">
          {waiting > 0 && (
            <span className="soft">
              {pages.length === 1
                ? 'first the page is straightened and read'
                : `${waiting} of ${pages.length} pages are not straightened and read yet`}
            </span>
          )}
          <Button onClick={() => void put()} disabled={pages.length === 0 || waiting > 0 || busy}>
            {busy ? 'One moment …' : 'Make the worksheet'}
          </Button>
        </span>
      </div>
      {page && (
        <PhotoPage
          key={page.key}
          page={page}
          files={files}
          uploadId={upload.id}
          change={(part, deed) => photos.change(page.key, part, deed)}
        />
      )}
    </div>
  )
}

async function blocksOf(page: Page, uploadId: string, files: PhotoFiles): Promise<Block[]> {
  if (page.way === 'backdrop') {
    const medium = await api.post<Medium>(
      `bring-in/${uploadId}/media`,
      new Uint8Array(await (await files.page(page)).blob.arrayBuffer()),
    )
    const height = Math.min(2_000, Math.max(30, Math.round((PAGE_WIDTH * medium.height) / medium.width)))
    return [{ id: newId(), kind: 'backdrop', media: medium.id, alt: '', width: PAGE_WIDTH, height, spaces: [] }]
  }
  return pageBlocks(
    [
      ...(page.blocks ?? []).map(({ is, text, box }) => ({ is, text, box })),
      ...page.figures.map(({ medium, box }) => ({
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
