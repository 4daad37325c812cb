import { strFromU8, strToU8, zipSync } from 'fflate'
import { SaxesParser } from 'saxes'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { SHEET_NOTES, SheetRows, dateText, linkOf } from './sheetRows.js'
import {
  CellCount,
  FILE_LIMITS,
  TOO_MANY_CELLS,
  type Table,
  type OutCell,
  type TableFile,
  harmlessCell,
} from './table.js'
import { escapeXml } from './xml.js'
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
  let sheet: SheetRows | null = null
  let table: Table | null = null
  let row: string[] = []
  let rowRepeat = 1
  let blankRows = 0
  let cell = ''
  let cellRepeat = 1
  let link = ''
  let value: string | null = null
  let isFormulaAlone = false
  let inCell = false
  let inNote = 0
  /** Merged cells that go on in the rows below, by column. */
  const covers = new Map<number, { readonly text: string; left: number }>()
  let spanned = 0
  const parser = new SaxesParser()
  const count = (text: string | undefined) => Math.max(1, Math.min(Number(text) || 1, FILE_LIMITS.rows))
  const finish = () => {
    for (const note of sheet?.finish() ?? []) notes.add(note)
    sheet = null
  }
  parser.on('opentag', ({ name, attributes }) => {
    switch (name) {
      case 'table:table':
        finish()
        sheet = tables.length < FILE_LIMITS.tables ? new SheetRows() : null
        table = sheet && { name: attributes['table:name'] ?? '', rows: sheet.rows }
        if (table) tables.push(table)
        blankRows = 0
        covers.clear()
        break
      case 'table:table-row':
        row = []
        rowRepeat = count(attributes['table:number-rows-repeated'])
        break
      case 'table:table-cell':
      case 'table:covered-table-cell': {
        inCell = true
        cell = ''
        link = linkOf(attributes['table:formula'] ?? '')
        value = valueOf(attributes)
        cellRepeat = count(attributes['table:number-columns-repeated'])
        const isFormula = attributes['table:formula'] !== undefined
        isFormulaAlone = isFormula && attributes['office:value-type'] === undefined
        if (isFormula) notes.add(SHEET_NOTES.formulas)
        spanned = count(attributes['table:number-rows-spanned'])
        if (spanned > 1 || count(attributes['table:number-columns-spanned']) > 1) notes.add(SHEET_NOTES.merged)
        break
      }
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
      case 'text:a':
        if (inCell && !inNote) link ||= attributes['xlink:href'] ?? ''
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
      const text = (value ?? cell).trim().slice(0, FILE_LIMITS.cell)
      const times = Math.min(cellRepeat, FILE_LIMITS.columns - row.length)
      if (sheet && times > 0) {
        const at = sheet.rows.length + blankRows
        if (link && !text.includes('@')) sheet.link(at, row.length, link)
        if (isFormulaAlone && !text) sheet.withoutValue(at, row.length)
        // It covers the rows after those that this row stands for.
        if (spanned > 1 && text) covers.set(row.length, { text, left: spanned - 1 + rowRepeat })
      }
      for (let at = 0; at < times; at++) row.push(text)
      // Each row that is repeated has it again.
      if (!counted.add(text, times * Math.min(rowRepeat, FILE_LIMITS.rows))) throw new TooMuch()
    } else if (name === 'table:table-row' && table) {
      while (row.length && !row.at(-1)) row.pop()
      // Blank rows count only if something comes after them: a sheet ends in a million of them.
      if (row.length === 0) blankRows += rowRepeat
      else {
        for (const [column, { text }] of covers) {
          if (row[column]) continue
          while (row.length < column) row.push('')
          row[column] = text
          if (!counted.add(text, Math.min(rowRepeat, FILE_LIMITS.rows))) throw new TooMuch()
        }
        for (; blankRows > 0 && table.rows.length < FILE_LIMITS.rows; blankRows--) table.rows.push([])
        blankRows = 0
        for (let at = 0; at < rowRepeat && table.rows.length < FILE_LIMITS.rows; at++) table.rows.push([...row])
      }
      for (const [column, cover] of covers) {
        cover.left -= rowRepeat
        if (cover.left <= 0) covers.delete(column)
      }
    }
  })
  parser.on('error', (error) => {
    throw error
  })
  parser.write(xml).close()
  finish()
  return { format: 'ODS', tables: tables.filter(({ rows }) => rows.length > 0), notes: [...notes] }
}

/** What a cell holds where that is not what it shows: dates, times and truth are written as the language of its author wants. */
function valueOf(attributes: Readonly<Record<string, string>>): string | null {
  const date = attributes['office:date-value'] ?? attributes['office:time-value']
  if (date !== undefined) return dateText(date)
  return attributes['office:boolean-value'] ?? null
}

/** A spreadsheet in the OpenDocument format with one sheet; the first row is its head. */
export function writeOds(name: string, rows: readonly (readonly OutCell[])[]): Uint8Array {
  const cells = (row: readonly OutCell[]) =>
    row
      .map((cell) =>
        typeof cell === 'number'
          ? `<table:table-cell office:value-type="float" office:value="${cell}"><text:p>${cell}</text:p></table:table-cell>`
          : cell
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
