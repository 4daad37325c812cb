import type { Box, CheckedWord, Corners, Place } from '@gavrin/core'
import { newId } from '../../editor/document'
import type { Medium } from '../queries'

/** A paragraph that was read, as it is being put right. */
export interface ReadBlock {
  readonly key: string
  readonly is: 'heading' | 'paragraph'
  readonly text: string
  /** As the reader had them; empty once the text was changed by hand. */
  readonly words: readonly CheckedWord[]
  readonly box: Box
}

/** A figure that was cut out of the page. */
export interface CutFigure {
  readonly medium: Medium
  readonly box: Box
}

/** One photograph on its way to be a page. */
export interface PhotoState {
  readonly key: string
  readonly file: Blob
  readonly width: number
  readonly height: number
  /** Null until they are found, or the whole picture is the page. */
  readonly corners: Corners | null
  readonly found: boolean
  readonly even: boolean
  readonly turn: number
  readonly cleaned: { readonly blob: Blob; readonly url: string } | null
  readonly way: 'text' | 'backdrop'
  /** Null: not read yet. */
  readonly blocks: readonly ReadBlock[] | null
  readonly figures: readonly CutFigure[]
  readonly places: readonly Place[]
}

export const newPhoto = (file: Blob, width: number, height: number): PhotoState => ({
  key: newId(),
  file,
  width,
  height,
  corners: null,
  found: false,
  even: true,
  turn: 0,
  cleaned: null,
  way: 'text',
  blocks: null,
  figures: [],
  places: [],
})
