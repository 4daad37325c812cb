import type { CSSProperties } from 'react'
import { useStored } from '../ui/useStored'

export const LETTERS = [1, 1.2, 1.45] as const
export const TINTS = ['white', 'cream', 'rose', 'mint', 'sky', 'grey'] as const

/** How somebody likes to read a page. */
export interface ReadingWishes {
  /** How large letters are: of the usual size. */
  readonly letters: (typeof LETTERS)[number]
  readonly isSpaced: boolean
  readonly tint: (typeof TINTS)[number]
  /** All but the lines where one reads are shaded. */
  readonly hasRuler: boolean
  /** How fast it is read aloud: of the usual pace. */
  readonly pace: number
}

const USUAL: ReadingWishes = { letters: 1, isSpaced: false, tint: 'white', hasRuler: false, pace: 1 }

/** What somebody wishes, remembered in this browser for them alone. */
export function useReading(personId: string): [ReadingWishes, (wishes: Partial<ReadingWishes>) => void] {
  const [wishes, setWishes] = useStored<Partial<ReadingWishes>>(`gavrin.reading.${personId}`, {})
  return [{ ...USUAL, ...wishes }, (changed) => setWishes({ ...wishes, ...changed })]
}

/** What an element around a sheet wears so that the sheet is as it is wished. */
export const worn = ({ letters, isSpaced, tint }: ReadingWishes) => ({
  'data-spaced': isSpaced || undefined,
  'data-tint': tint === 'white' ? undefined : tint,
  style: (letters === 1 ? {} : { '--letters': letters }) as CSSProperties,
})
