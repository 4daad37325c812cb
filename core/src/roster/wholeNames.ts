import { foldText } from './names.js'

/** How a name that stands in one cell without a comma is parted: which comes first, or which is written in capitals. */
export type NameWay = 'first last' | 'last first' | 'capitals'

export const NAME_WAYS: readonly NameWay[] = ['first last', 'last first', 'capitals']

/** A name out of one cell. */
export interface PartedName {
  readonly last: string
  readonly first: string
  /** With several words on both sides, where it was parted is a guess. */
  readonly isGuess: boolean
}

/** How the names of a column were parted, to be seen before anything is saved. */
export interface NameParting {
  readonly way: NameWay
  /** How many stand in one cell without a comma. */
  readonly count: number
  /** The first few, and of them the hardest. */
  readonly preview: readonly ({ readonly cell: string } & PartedName)[]
}

const PREVIEW = 3
const LOOKED_AT = 500

// Words that belong to the last name after them.
const BEFORE_LAST = new Set([
  ...['van', 'von', 'der', 'den', 'de', 'del', 'della', 'di', 'da', 'dos', 'das', 'do', 'du', 'des', 'la', 'le', 'los'],
  ...[
    'al',
    'el',
    'bin',
    'ibn',
    'bint',
    'ter',
    'ten',
    'te',
    'zu',
    'zum',
    'zur',
    'af',
    'av',
    'st',
    'st.',
    'mac',
    'mc',
    'abu',
  ],
])

const wordsOf = (cell: string) => cell.split(' ').filter(Boolean)
const isBefore = (word: string) => BEFORE_LAST.has(foldText(word))
const isCapital = (word: string) => /\p{Lu}.*\p{Lu}/u.test(word) && !/\p{Ll}/u.test(word.replace(/^(?:Mc|Mac)/, ''))

/** Parts a name of one cell. At a comma the last name stands before it, whichever way is asked for. */
export function partName(cell: string, way: NameWay): PartedName {
  const comma = cell.indexOf(',')
  if (comma >= 0) return { last: cell.slice(0, comma).trim(), first: cell.slice(comma + 1).trim(), isGuess: false }
  const words = wordsOf(cell)
  if (words.length < 2) return { last: '', first: cell, isGuess: false }
  if (way === 'capitals') {
    const last = words.filter(isCapital)
    const first = words.filter((word) => !isCapital(word))
    if (last.length && first.length) return { last: last.join(' '), first: first.join(' '), isGuess: false }
  }
  const parted = (at: number, lastLeads: boolean): PartedName => {
    const [one, two] = [words.slice(0, at), words.slice(at)]
    const [last, first] = lastLeads ? [one, two] : [two, one]
    const isLong = last.filter((word) => !isBefore(word)).length > 1 || first.length > 1
    return { last: last.join(' '), first: first.join(' '), isGuess: isLong }
  }
  if (way === 'last first') {
    let at = 1
    while (at < words.length - 1 && isBefore(words[at - 1]!)) at++
    return parted(at, true)
  }
  let at = words.length - 1
  while (at > 1 && isBefore(words[at - 1]!)) at--
  return parted(at, false)
}

/** Whether a cell is parted by a guess about the whole column. */
export const isPartedByWay = (cell: string): boolean => cell.includes(' ') && !cell.includes(',')

/**
 * Which way the names of a column stand: capitals where most have some, else by the addresses beside them. An address that holds
 * one word whole and of the other one only its initial holds the last name; else most begin with the first name.
 * @param names the cells, with the address of each row or an empty text
 */
export function nameWay(names: readonly { readonly cell: string; readonly email: string }[]): NameWay {
  const asked = names.filter(({ cell }) => isPartedByWay(cell)).slice(0, LOOKED_AT)
  const mixed = asked.filter(({ cell }) => wordsOf(cell).some(isCapital) && !wordsOf(cell).every(isCapital))
  if (mixed.length > asked.length / 2) return 'capitals'
  let lastLeads = 0
  for (const { cell, email } of asked) {
    const local = plain(email.split('@')[0]!)
    const words = wordsOf(cell).map(plain)
    const [one, two] = [words[0]!, words.at(-1)!]
    if (!local || !one || !two) continue
    const [hasOne, hasTwo] = [local.includes(one), local.includes(two)]
    if (hasOne && !hasTwo) lastLeads += local.startsWith(two[0]!) ? 2 : 0
    else if (hasTwo && !hasOne) lastLeads -= local.startsWith(one[0]!) ? 2 : 0
    else if (hasOne && hasTwo) lastLeads += local.startsWith(two) ? 1 : local.startsWith(one) ? -1 : 0
  }
  return lastLeads > 0 ? 'last first' : 'first last'
}

/** How a column of names is parted: what is asked about it once, instead of in each row. Null where no name is parted by a guess. */
export function nameParting(cells: readonly string[], way: NameWay): NameParting | null {
  const asked = cells.filter(isPartedByWay)
  if (asked.length === 0) return null
  const parted = asked.map((cell) => ({ cell, ...partName(cell, way) }))
  const hard = parted.filter(({ isGuess }) => isGuess)
  const shown = [...new Set([...parted.slice(0, PREVIEW), ...hard.slice(0, PREVIEW)])].slice(0, PREVIEW + 1)
  return { way, count: asked.length, preview: shown }
}

const plain = (text: string) =>
  foldText(text)
    .normalize('NFD')
    .replace(/[^\p{L}\p{N}]/gu, '')
