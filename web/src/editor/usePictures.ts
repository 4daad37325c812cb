import type { Editor } from '@tiptap/react'
import { useState } from 'react'
import { api, sentenceOf } from '../ui/api'
import type { Medium } from '../worksheets/queries'
import type { BackdropPage } from './BackdropNode'
import type { PictureAttrs } from './printNodes'

const A4_WIDTH = 210

/** Keeps pictures with a worksheet and puts them on its page: as pictures, or as backdrop pages. */
export function usePictures(worksheetId: string, editor: () => Editor | null) {
  const [problem, setProblem] = useState<string | null>(null)
  const each = async (files: readonly File[], put: (medium: Medium, file: File) => void) => {
    setProblem(null)
    for (const file of files) {
      try {
        const bytes = new Uint8Array(await file.arrayBuffer())
        put(await api.post<Medium>(`worksheets/${worksheetId}/media`, bytes), file)
      } catch (error) {
        setProblem(`${file.name}: ${sentenceOf(error)}`)
      }
    }
  }
  const put = (files: readonly File[]) =>
    void each(files, ({ id, width, height }) => {
      const picture: PictureAttrs = {
        media: id,
        alt: '',
        pixelWidth: width,
        pixelHeight: height,
        width: Math.min(100, Math.max(20, Math.round(width / 9))),
        turn: 0,
        crop: null,
        place: 'start',
      }
      editor()?.chain().focus().putBlock('picture', { picture }).run()
    })
  const putBackdrops = (files: readonly File[]) =>
    void each(files, ({ id, width, height }) => {
      const page: BackdropPage = {
        media: id,
        alt: '',
        width: A4_WIDTH,
        height: Math.min(2_000, Math.max(30, Math.round((A4_WIDTH * height) / width))),
      }
      editor()?.chain().focus().putBlock('backdrop', { page, spaces: [] }).run()
    })
  /** Takes pictures that were pasted or dropped; false: there was none. */
  const take = (files: FileList | undefined): boolean => {
    const found = [...(files ?? [])].filter(({ type }) => type.startsWith('image/'))
    if (found.length) put(found)
    return found.length > 0
  }
  return { put, putBackdrops, take, problem }
}
