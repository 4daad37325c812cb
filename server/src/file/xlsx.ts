import {
  CellCount,
  FILE_LIMITS,
  SHEET_NOTES,
  SheetRows,
  TOO_MANY_CELLS,
  type Outcome,
  type Table,
  type TableFile,
  dateText,
  fine,
  harmlessCell,
  linkOf,
  refuse,
  unzipWithin,
} from '@gavrin/core'
import ExcelJS from 'exceljs'
import { zipSync } from 'fflate'

/** Reads a workbook (Office Open XML): the cells as they were shown when it was saved. */
export async function readXlsx(bytes: Uint8Array): Promise<Outcome<TableFile>> {
  // Unpacked here within limits first: the reader itself would unpack without any.
  const files = unzipWithin(bytes, (name) => /\.(xml|rels)$/i.test(name))
  if (!files.ok) return files
  const workbook = new ExcelJS.Workbook()
  try {
    const packed = zipSync(files.value, { level: 0 })
    await workbook.xlsx.load(packed.buffer)
  } catch {
    return refuse({
      code: 'file-broken',
      field: 'file',
      sentence: 'This workbook is damaged: save it again where it came from.',
    })
  }
  const notes = new Set<string>()
  const tables: Table[] = []
  const counted = new CellCount()
  let isTooMuch = false
  for (const sheet of workbook.worksheets.slice(0, FILE_LIMITS.tables)) {
    if (sheet.state !== 'visible') {
      notes.add('Hidden sheets were passed over.')
      continue
    }
    const gathered = new SheetRows()
    const { rows } = gathered
    sheet.eachRow({ includeEmpty: false }, (row, number) => {
      if (isTooMuch || rows.length >= FILE_LIMITS.rows || number > 10 * FILE_LIMITS.rows) return
      while (rows.length < Math.min(number - 1, FILE_LIMITS.rows - 1)) rows.push([])
      const cells: string[] = []
      const covered: { readonly column: number; readonly text: string }[] = []
      row.eachCell({ includeEmpty: false }, (cell, number) => {
        const column = number - 1
        if (isTooMuch || column >= FILE_LIMITS.columns) return
        while (cells.length < column) cells.push('')
        if (cell.isMerged) notes.add(SHEET_NOTES.merged)
        const { master } = cell
        const isCovered = cell.isMerged && master !== cell
        // What is merged over several rows is said in each; over several columns it is said once.
        const text = isCovered && master.col !== cell.col ? '' : shownIn(isCovered ? master : cell)
        if (isCovered) covered.push({ column, text })
        else {
          if (cell.formula) notes.add(SHEET_NOTES.formulas)
          if (cell.formula && !text && !cell.formula.includes('""')) gathered.withoutValue(rows.length, column)
          const target = cell.hyperlink || linkOf(cell.formula ?? '')
          if (target && !text.includes('@')) gathered.link(rows.length, column, target)
        }
        if (!counted.add(text)) isTooMuch = true
        else cells.push(isCovered ? '' : text)
      })
      // A row that holds nothing of its own stays empty.
      if (cells.some(Boolean)) for (const { column, text } of covered) cells[column] = text
      while (cells.length && !cells.at(-1)) cells.pop()
      rows.push(cells)
    })
    if (isTooMuch) return refuse(TOO_MANY_CELLS)
    while (rows.at(-1)?.length === 0) rows.pop()
    for (const note of gathered.finish()) notes.add(note)
    if (rows.length) tables.push({ name: sheet.name, rows })
  }
  return fine({ format: 'XLSX', tables, notes: [...notes] })
}

/** What a cell shows; a number that is shown with leading noughts has them. */
function shownIn(cell: ExcelJS.Cell): string {
  const text = textOf(cell.value).trim().slice(0, FILE_LIMITS.cell)
  return /^0{2,20}$/.test(cell.numFmt ?? '') && /^\d+$/.test(text) ? text.padStart(cell.numFmt.length, '0') : text
}

function textOf(value: ExcelJS.CellValue): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? '' : ofDate(value)
  if (typeof value !== 'object') return String(value)
  if ('richText' in value) return value.richText.map(({ text }) => text).join('')
  if ('error' in value) return ''
  if ('hyperlink' in value) {
    const shown: unknown = value.text
    return typeof shown === 'string' ? shown : textOf(shown as ExcelJS.CellValue)
  }
  if ('result' in value || 'formula' in value || 'sharedFormula' in value) return textOf(value.result)
  return ''
}

/** A time of day alone is counted from the day before the first one there is. */
function ofDate(date: Date): string {
  const text = date.toISOString()
  return text.startsWith('1899-12-3') ? text.slice(11, 16) : dateText(text)
}

/** A workbook with one sheet of text cells; the first row is its head and stays in view. */
export async function writeXlsx(name: string, rows: readonly (readonly string[])[]): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook()
  // Signs that a sheet's name cannot have, and the length it can.
  const sheet = workbook.addWorksheet(
    name
      .replace(/[\\/*?:[\]']/g, ' ')
      .trim()
      .slice(0, 31) || 'Roster',
    {
      views: [{ state: 'frozen', ySplit: 1 }],
    },
  )
  for (const row of rows) sheet.addRow(row.map((cell) => harmlessCell(cell)))
  sheet.getRow(1).font = { bold: true }
  sheet.columns.forEach((column, at) => {
    const widest = rows.slice(0, 200).reduce((most, row) => Math.max(most, (row[at] ?? '').length), 0)
    column.width = Math.min(50, Math.max(10, widest + 2))
    // Text, so that a student number keeps its leading noughts.
    column.numFmt = '@'
  })
  return new Uint8Array(await workbook.xlsx.writeBuffer())
}
