import {
  type Outcome,
  type RosterBundle,
  TOO_MANY_CELLS,
  type TableFile,
  fileKind,
  fine,
  isBundle,
  kindProblem,
  readBundle,
  readOds,
  readXlsx,
  refuse,
  zipNames,
} from '@gavrin/core'

/** What a file with a list of students held: tables, or a rostering bundle. */
export type ListFile = ({ readonly kind: 'tables' } & TableFile) | ({ readonly kind: 'bundle' } & RosterBundle)

/** A list as it is answered: what goes in the first answer, and the further rows of each table in pages, all of it JSON. */
export interface ReadList {
  readonly head: ListHead
  readonly pages: readonly (readonly Uint8Array[])[]
}

/** Of a table, the first rows and how many there are in all. */
export type ListHead =
  | (Omit<TableFile, 'tables'> & {
      readonly kind: 'tables'
      readonly tables: readonly { readonly name: string; readonly rows: string[][]; readonly count: number }[]
    })
  | ({ readonly kind: 'bundle' } & RosterBundle)

/** Rows in one answer. */
export const LIST_PAGE = 2_000
/** Enrolments of a bundle that are taken. */
const ENROLMENTS = 200_000

/** Parts a list into what is answered at once and what is fetched after. */
export function pagesOf(list: ListFile): Outcome<ReadList> {
  if (list.kind === 'bundle') {
    const enrolments = list.classes.reduce((sum, { students, staff }) => sum + students.length + staff.length, 0)
    return enrolments > ENROLMENTS ? refuse(TOO_MANY_CELLS) : fine({ head: list, pages: [] })
  }
  const text = new TextEncoder()
  return fine({
    head: {
      ...list,
      tables: list.tables.map(({ name, rows }) => ({ name, rows: rows.slice(0, LIST_PAGE), count: rows.length })),
    },
    pages: list.tables.map(({ rows }) =>
      Array.from({ length: Math.ceil(rows.length / LIST_PAGE) - 1 }, (_, at) =>
        text.encode(JSON.stringify(rows.slice((at + 1) * LIST_PAGE, (at + 2) * LIST_PAGE))),
      ),
    ),
  })
}

/** Reads a list and parts it. */
export function readPages(bytes: Uint8Array): Outcome<ReadList> {
  const list = readListFile(bytes)
  return list.ok ? pagesOf(list.value) : list
}

/** What an archive is, told from the names in it; a problem for whatever is no list. Quick, and unpacks nothing. */
export function listKind(bytes: Uint8Array): Outcome<'bundle' | 'xlsx' | 'ods'> {
  const problem = (code: string, sentence: string) => refuse({ code, field: 'file', sentence })
  const kind = fileKind(bytes)
  if (kind === 'text') return problem('file-is-text', 'This is a text file: it is read in the browser.')
  if (kind !== 'archive') return problem('file-kind', kindProblem(kind))
  const names = zipNames(bytes)
  if (!names.ok) return names
  if (isBundle(names.value)) return fine('bundle')
  if (names.value.includes('xl/workbook.xml')) return fine('xlsx')
  if (names.value.includes('content.xml')) return fine('ods')
  return problem(
    'file-kind',
    'This archive holds neither a workbook nor a rostering bundle: bring in a spreadsheet (.xlsx, .ods, .csv) or paste the rows.',
  )
}

/** Reads a workbook or a rostering bundle. */
export function readListFile(bytes: Uint8Array): Outcome<ListFile> {
  const kind = listKind(bytes)
  if (!kind.ok) return kind
  if (kind.value === 'bundle') {
    const bundle = readBundle(bytes)
    return bundle.ok ? fine({ kind: 'bundle', ...bundle.value }) : bundle
  }
  const read = kind.value === 'xlsx' ? readXlsx(bytes) : readOds(bytes)
  if (!read.ok) return read
  if (read.value.tables.length === 0)
    return refuse({ code: 'file-empty', field: 'file', sentence: 'This workbook has no row in it.' })
  return fine({ kind: 'tables', ...read.value })
}
