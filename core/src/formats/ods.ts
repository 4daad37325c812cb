import { strFromU8, strToU8, zipSync } from 'fflate'
import { SaxesParser } from 'saxes'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { CellCount, FILE_LIMITS, TOO_MANY_CELLS, type Table, type TableFile, harmlessCell } from './table.js'
import { unzipWithin } from './zip.js'

// OpenDocument 1.3 (OASIS), part 3: a spreadsheet is content.xml in a zip archive, with rows and cells that may be
// repeated by a count.

const MIME = 'application/vnd.oasis.opendocument.spreadsheet'

/** Reads a spreadsheet in the OpenDocument format. */
export function readOds(bytes: Uint8Array): Outcome<TableFile> {
  const files = unzipWithin(bytes, (name) => name === 'content.xml' || name === 'META-INF/manifest.xml')
  if (!files.ok) return files
  const manifest = files.value['META-INF/manifest.xml']
  if (manifest && strFromU8(manifest).includes('encryption-data'))
    return refuse({
      code: 'file-locked',
      field: 'file',
      sentence: 'This workbook is locked with a password: save it without one, then bring it in.',
    })
  const content = files.value['content.xml']
  try {
    if (content) return fine(readContent(strFromU8(content)))
  } catch (error) {
    if (error instanceof TooMuch) return refuse(TOO_MANY_CELLS)
  }
  return refuse({
    code: 'file-broken',
    field: 'file',
    sentence: 'This workbook is damaged: save it again where it came from.',
  })
}

class TooMuch extends Error {}

function readContent(xml: string): TableFile {
  const counted = new CellCount()
  const tables: Table[] = []
  const notes = new Set<string>()
  let table: Table | null = null
  let row: string[] = []
  let rowRepeat = 1
  let blankRows = 0
  let cell = ''
  let cellRepeat = 1
  let inCell = false
  let inNote = 0
  const parser = new SaxesParser()
  const count = (value: string | undefined) => Math.max(1, Math.min(Number(value) || 1, FILE_LIMITS.rows))
  parser.on('opentag', ({ name, attributes }) => {
    switch (name) {
      case 'table:table':
        table = tables.length < FILE_LIMITS.tables ? { name: attributes['table:name'] ?? '', rows: [] } : null
        if (table) tables.push(table)
        blankRows = 0
        break
      case 'table:table-row':
        row = []
        rowRepeat = count(attributes['table:number-rows-repeated'])
        break
      case 'table:table-cell':
      case 'table:covered-table-cell':
        inCell = true
        cell = ''
        cellRepeat = count(attributes['table:number-columns-repeated'])
        if (attributes['table:formula']) notes.add('Cells with a formula were taken as what they showed when saved.')
        if (
          Number(attributes['table:number-columns-spanned']) > 1 ||
          Number(attributes['table:number-rows-spanned']) > 1
        )
          notes.add('Merged cells were taken as one cell with empty ones beside it.')
        break
      case 'text:p':
        if (inCell && !inNote && cell) cell += '\n'
        break
      case 'text:s':
        if (inCell && !inNote) cell += ' '.repeat(Math.min(100, count(attributes['text:c'])))
        break
      case 'text:tab':
      case 'text:line-break':
        if (inCell && !inNote) cell += ' '
        break
      case 'office:annotation':
        inNote++
        break
    }
  })
  parser.on('text', (text) => {
    if (inCell && !inNote && cell.length < FILE_LIMITS.cell) cell += text
  })
  parser.on('closetag', ({ name }) => {
    if (name === 'office:annotation') inNote--
    else if (name === 'table:table-cell' || name === 'table:covered-table-cell') {
      inCell = false
      const text = cell.trim().slice(0, FILE_LIMITS.cell)
      const times = Math.min(cellRepeat, FILE_LIMITS.columns - row.length)
      for (let at = 0; at < times; at++) row.push(text)
      // Each row that is repeated has it again.
      if (!counted.add(text, times * Math.min(rowRepeat, FILE_LIMITS.rows))) throw new TooMuch()
    } else if (name === 'table:table-row' && table) {
      while (row.length && !row.at(-1)) row.pop()
      // Blank rows count only if something comes after them: a sheet ends in a million of them.
      if (row.length === 0) blankRows += rowRepeat
      else {
        for (; blankRows > 0 && table.rows.length < FILE_LIMITS.rows; blankRows--) table.rows.push([])
        blankRows = 0
        for (let at = 0; at < rowRepeat && table.rows.length < FILE_LIMITS.rows; at++) table.rows.push([...row])
      }
    }
  })
  parser.on('error', (error) => {
    throw error
  })
  parser.write(xml).close()
  return { format: 'ODS', tables: tables.filter(({ rows }) => rows.length > 0), notes: [...notes] }
}

/** A spreadsheet in the OpenDocument format with one sheet of text cells; the first row is its head. */
export function writeOds(name: string, rows: readonly (readonly string[])[]): Uint8Array {
  const cells = (row: readonly string[]) =>
    row
      .map((cell) =>
        cell
          ? `<table:table-cell office:value-type="string"><text:p>${escapeXml(harmlessCell(cell))}</text:p></table:table-cell>`
          : '<table:table-cell/>',
      )
      .join('')
  const content = `<?xml version="1.0" encoding="UTF-8"?>
<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.3"><office:body><office:spreadsheet><table:table table:name="${escapeXml(name)}">${rows.map((row) => `<table:table-row>${cells(row)}</table:table-row>`).join('')}</table:table></office:spreadsheet></office:body></office:document-content>`
  const manifest = `<?xml version="1.0" encoding="UTF-8"?>
<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="${MIME}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`
  return zipSync({
    // First and not packed, so that the kind of file can be told from its first bytes (part 2, 3.3).
    mimetype: [strToU8(MIME), { level: 0 }],
    'content.xml': strToU8(content),
    'META-INF/manifest.xml': strToU8(manifest),
  })
}

// Signs that have no place in XML 1.0, not even escaped.
const FORBIDDEN = /[\p{Cc}\uFFFE\uFFFF]/gu

function escapeXml(text: string): string {
  return text
    .replace(FORBIDDEN, (sign) => (sign === '\t' || sign === '\n' ? sign : ''))
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
}
