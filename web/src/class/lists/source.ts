import {
  type Delimiter,
  FILE_LIMITS,
  type RosterBundle,
  type Table,
  type TextEncodingName,
  decodeText,
  fileKind,
  kindProblem,
  plainCell,
  readTable,
} from '@gavrin/core'
import { ApiError, api } from '../../ui/api'
import type { Answers } from '../../contract'

/** Where a list came from. */
export type Source =
  | { readonly kind: 'pasted'; readonly text: string; readonly delimiter?: Delimiter }
  | {
      readonly kind: 'text file'
      readonly name: string
      readonly bytes: Uint8Array
      readonly encoding?: TextEncodingName
      readonly delimiter?: Delimiter
    }
  | {
      readonly kind: 'workbook'
      readonly name: string
      readonly tables: readonly Table[]
      readonly notes: readonly string[]
      readonly sheet: number
    }
  | { readonly kind: 'bundle'; readonly name: string; readonly bundle: RosterBundle }

type Answer = Answers['POST lists/read']

/** Reads a file that was chosen or dropped. What cannot be read is an error with a sentence. */
export async function readSource(file: File): Promise<Source> {
  const problem = (sentence: string) => new ApiError(0, 'file', sentence)
  if (file.size > FILE_LIMITS.bytes)
    throw problem(
      `${file.name} has more than ${FILE_LIMITS.bytes / 1_000_000} MB: bring in the sheet you need alone, or paste its rows.`,
    )
  const bytes = new Uint8Array(await file.arrayBuffer())
  if (bytes.length === 0) throw problem(`${file.name} is empty.`)
  const kind = fileKind(bytes)
  const why = kindProblem(kind)
  if (why) throw problem(why)
  if (kind === 'text') return { kind: 'text file', name: file.name, bytes }
  const answer = await api.post<Answer>('lists/read', bytes)
  if (answer.kind === 'bundle')
    return {
      kind: 'bundle',
      name: file.name,
      bundle: { ...answer, classes: [...answer.classes], notes: [...answer.notes] },
    }
  const tables: Table[] = []
  for (const [at, { name, rows, count }] of answer.tables.entries()) {
    const all = rows.map((row) => [...row])
    for (let page = 1; all.length < count; page++)
      all.push(...(await api.get<string[][]>(`lists/${answer.id}/tables/${at}/pages/${page}`)))
    tables.push({ name, rows: all })
  }
  // The sheet with most rows is most likely the list.
  const sizes = tables.map(({ rows }) => rows.length)
  return { tables, notes: answer.notes, kind: 'workbook', name: file.name, sheet: sizes.indexOf(Math.max(...sizes)) }
}

/** The rows of a source as they are to be understood, and what was guessed on the way. */
export interface SourceRows {
  readonly rows: readonly (readonly string[])[]
  readonly delimiter?: Delimiter
  readonly encoding?: TextEncodingName
  readonly problem?: string
}

export function rowsOf(source: Source): SourceRows | null {
  if (source.kind === 'bundle') return null
  if (source.kind === 'workbook') return { rows: source.tables[source.sheet]!.rows.map((row) => row.map(plainCell)) }
  const decoded = source.kind === 'text file' ? decodeText(source.bytes, source.encoding) : null
  const text = source.kind === 'pasted' ? source.text : decoded!.text
  if (!text.trim()) return null
  const table = readTable(text, source.delimiter)
  const encoding = decoded ? { encoding: decoded.encoding } : {}
  if (!table.ok) return { rows: [], problem: table.problems[0]!.sentence, ...encoding }
  return { rows: table.value.rows.map((row) => row.map(plainCell)), delimiter: table.value.delimiter, ...encoding }
}
