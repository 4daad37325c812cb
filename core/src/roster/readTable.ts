import Papa from 'papaparse'
import { type Outcome, fine, refuse } from '../errors/problem.js'

export type Delimiter = '\t' | ',' | ';' | '|'

/** A table of text cells, and what parted them. */
export interface ReadTable {
  readonly delimiter: Delimiter
  readonly rows: string[][]
}

/** The most UTF-16 units of text that are read at once. */
export const ROSTER_TEXT_LIMIT = 12_000_000

/** Lines of a text, with the empty ones. */
const LINE_LIMIT = 500_000

const DELIMITERS: readonly Delimiter[] = ['\t', ';', ',', '|']

/**
 * Parts text into cells (RFC 4180: quotes, and line breaks within them) at tabs, semicolons, commas or bars.
 * @param delimiter overrules the guess; a first line `sep=;`, as some spreadsheets write it, does too
 * @returns the rows, blank ones between them too, so that they are counted as a spreadsheet counts them; a problem for text beyond the limits or with nothing in it
 */
export function readTable(text: string, delimiter?: Delimiter): Outcome<ReadTable> {
  if (text.length > ROSTER_TEXT_LIMIT)
    return refuse({
      code: 'roster-too-long',
      field: 'text',
      sentence: `This is more than ${ROSTER_TEXT_LIMIT / 1_000_000} million characters: bring in fewer rows at a time.`,
    })
  if (linesOf(text) > LINE_LIMIT)
    return refuse({
      code: 'roster-too-many-rows',
      field: 'text',
      sentence: `This has more than ${LINE_LIMIT} lines: bring in fewer rows at a time.`,
    })
  const bare = text.replace(FALSE_MARKS, '$1').replaceAll('\0', '')
  const told = /^sep=([,;|\t])\r?\n/i.exec(bare)
  const source = told ? bare.slice(told[0].length) : bare
  const parted = delimiter ?? (told ? (told[1] as Delimiter) : sniffDelimiter(source))
  const rows = partRows(source, parted)
  while (rows.length && isBlank(rows.at(-1)!)) rows.pop()
  if (rows.length === 0)
    return refuse({
      code: 'roster-empty',
      field: 'text',
      sentence: 'There are no rows in this yet: copy the rows in your spreadsheet and paste them here.',
    })
  return fine({ delimiter: parted, rows })
}

// Byte order marks at the beginning, also twice, within quotes, and read in the wrong coding.
const FALSE_MARKS = /^([^\S\uFEFF]*"?)(?:\uFEFF|\u00EF\u00BB\u00BF)+/

const partRows = (source: string, delimiter: Delimiter): string[][] =>
  Papa.parse<string[]>(source, { delimiter, skipEmptyLines: false }).data

function linesOf(text: string): number {
  let lines = 1
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) lines++
  return lines
}

const isBlank = (row: readonly string[]) => row.every((cell) => cell.trim() === '')

/** The delimiter that parts the first rows into the same number of cells most often; a tab wins a tie, then a semicolon. */
function sniffDelimiter(source: string): Delimiter {
  const head = source.split(/\r\n|\r|\n/, 60).join('\n')
  let best: Delimiter = '\t'
  let bestScore = 0
  for (const delimiter of DELIMITERS) {
    const widths = partRows(head, delimiter).map((row) => row.length)
    const counts = new Map<number, number>()
    for (const width of widths) if (width > 1) counts.set(width, (counts.get(width) ?? 0) + 1)
    const score = Math.max(0, ...counts.values())
    if (score > bestScore) {
      best = delimiter
      bestScore = score
    }
  }
  return best
}
