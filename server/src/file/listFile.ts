import {
  type Outcome,
  type RosterBundle,
  type TableFile,
  fileKind,
  fine,
  isBundle,
  kindProblem,
  readBundle,
  readOds,
  refuse,
  zipNames,
} from '@gavrin/core'

/** What a file with a list of students held: tables, or a rostering bundle. */
export type ListFile = ({ readonly kind: 'tables' } & TableFile) | ({ readonly kind: 'bundle' } & RosterBundle)

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
export async function readListFile(bytes: Uint8Array): Promise<Outcome<ListFile>> {
  const kind = listKind(bytes)
  if (!kind.ok) return kind
  if (kind.value === 'bundle') {
    const bundle = readBundle(bytes)
    return bundle.ok ? fine({ kind: 'bundle', ...bundle.value }) : bundle
  }
  // Loaded only where it is needed: it takes longer to load than most files to read.
  const read = kind.value === 'xlsx' ? await (await import('./xlsx.js')).readXlsx(bytes) : readOds(bytes)
  if (!read.ok) return read
  if (read.value.tables.length === 0)
    return refuse({ code: 'file-empty', field: 'file', sentence: 'This workbook has no row in it.' })
  return fine({ kind: 'tables', ...read.value })
}
