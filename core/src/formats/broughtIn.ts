import type { WorksheetContent } from '../worksheet/content.js'

/** What a document held, as a worksheet that is not kept yet. */
export interface BroughtIn {
  /** Of the document, from its own data or its first heading; may be empty. */
  readonly title: string
  /** Its pictures have as their medium the key under which `pictures` has them, and no size in pixels yet. */
  readonly content: WorksheetContent
  readonly pictures: readonly BroughtPicture[]
  /** What could not be carried over or was changed, a sentence each. */
  readonly notes: readonly string[]
}

export interface BroughtPicture {
  readonly key: string
  readonly bytes: Uint8Array
}

/** The most that is taken out of one document. */
export const DOCUMENT_LIMITS = {
  /** Bytes of the file itself. */
  bytes: 30_000_000,
  /** Bytes of the text of a web page, Markdown or plain text. */
  text: 5_000_000,
  /** Signs of one paragraph of Markdown. */
  paragraph: 50_000,
  pictures: 100,
  pictureBytes: 20_000_000,
  blocks: 900,
} as const

/** Counts what was left out and says it once, in a sentence with the number. */
export class LeftOut {
  private readonly counts = new Map<string, number>()

  add(what: string, count = 1): void {
    this.counts.set(what, (this.counts.get(what) ?? 0) + count)
  }

  /** A sentence for each thing that was left out; `#` in its words stands for the number. */
  notes(): string[] {
    return [...this.counts].map(([words, count]) => words.replace('#', String(count)))
  }
}
