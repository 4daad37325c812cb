import type { FileAnswer } from '@gavrin/core'
import { createContext, useContext } from 'react'
import type * as Y from 'yjs'

/** Files that are handed in on a sheet. */
export interface SheetFiles {
  readonly add: (space: string, file: File) => Promise<FileAnswer>
  readonly url: (id: string) => string
}

/** What the parts of a sheet need to know of where it is shown. */
export interface SheetSurroundings {
  /** The address of a picture. */
  readonly mediaUrl: (id: string) => string
  /** The documents of the answers; null where there are none (in the library). */
  readonly docOf: ((space: string) => Y.Doc) | null
  /** What shuffled options are shuffled by: of the copy; empty: not shuffled. */
  readonly seed: string
  readonly files: SheetFiles | null
  /** Of the worksheet, as a BCP 47 tag; empty: not known. */
  readonly language: string
  /** Browsers help with spelling in its answers. */
  readonly spelling: boolean
  /** Asks for the hint of a space that has one; null where hints are there already. */
  readonly hintOf: ((space: string) => Promise<string>) | null
}

const NOTHING: SheetSurroundings = {
  mediaUrl: () => '',
  docOf: null,
  seed: '',
  files: null,
  language: '',
  spelling: true,
  hintOf: null,
}

export const SheetContext = createContext<SheetSurroundings>(NOTHING)
export const useSheet = (): SheetSurroundings => useContext(SheetContext)

/** A sheet of the library: its pictures, and no answers. */
export const inLibrary = (worksheetId: string): SheetSurroundings => ({
  ...NOTHING,
  mediaUrl: (id) => `/api/worksheets/${worksheetId}/media/${id}`,
})
