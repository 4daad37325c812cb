/** A file that was handed in. */
export interface FileAnswer {
  readonly id: string
  readonly name: string
}

/** What stands in an answer space: text, the ids of the options chosen, the strokes of a drawing, or files. */
export type AnswerValue =
  | { readonly text: string }
  | { readonly chosen: readonly string[] }
  | { readonly strokes: readonly string[] }
  | { readonly files: readonly FileAnswer[] }

/** What checking an answer against its key tells. */
export type Check =
  /** There is no key, or it is for a person to judge. */
  | { readonly is: 'unchecked' }
  | { readonly is: 'empty' }
  | { readonly is: 'right' }
  /** `why`: what is the matter, where it can be told without telling the answer. */
  | { readonly is: 'wrong'; readonly why: string }

export const RIGHT: Check = { is: 'right' }

/** An answer that is wrong, and what is the matter where it can be told. */
export const wrong = (why = ''): Check => ({ is: 'wrong', why })
