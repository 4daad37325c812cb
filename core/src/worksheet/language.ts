import { franc } from 'franc-min'
import type { WorksheetContent } from './content.js'
import { contentWords } from './words.js'

/** Letters that a guess needs: of fewer the languages of one script cannot be told apart. */
const ENOUGH = 60

/**
 * The language that a text is in, guessed from its groups of three letters (W. B. Cavnar, J. M. Trenkle: N-gram-based text
 * categorization, 1994).
 * @returns a BCP 47 tag; empty where there is too little to tell by
 */
export function guessLanguage(text: string): string {
  const code = franc(text, { minLength: ENOUGH })
  return code === 'und' ? '' : (Intl.getCanonicalLocales(code)[0] ?? '')
}

/** The language of a worksheet: as its author set it, else as its print reads; empty where nobody can tell. */
export const languageOf = (content: WorksheetContent): string =>
  content.language ?? guessLanguage(contentWords(content))

/** Whether a text is a language tag that can stand on a page. */
export function isLanguage(tag: string): boolean {
  try {
    return tag.length <= 35 && Intl.getCanonicalLocales(tag)[0] === tag
  } catch {
    return false
  }
}
