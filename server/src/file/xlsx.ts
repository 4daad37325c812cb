import {
  CellCount,
  FILE_LIMITS,
  TOO_MANY_CELLS,
  type Outcome,
  type Table,
  type TableFile,
  fine,
  harmlessCell,
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
    const rows: string[][] = []
    sheet.eachRow({ includeEmpty: false }, (row, number) => {
      if (isTooMuch || rows.length >= FILE_LIMITS.rows || number > 10 * FILE_LIMITS.rows) return
      while (rows.length < Math.min(number - 1, FILE_LIMITS.rows - 1)) rows.push([])
      const cells: string[] = []
      row.eachCell({ includeEmpty: false }, (cell, column) => {
        if (isTooMuch || column > FILE_LIMITS.columns) return
        while (cells.length < column - 1) cells.push('')
        // A merged range shows its text once, in its first cell.
        if (cell.isMerged && cell.master !== cell) {
          notes.add('Merged cells were taken as one cell with empty ones beside it.')
          cells.push('')
        } else {
          if (cell.formula) notes.add('Cells with a formula were taken as what they showed when saved.')
          const text = textOf(cell.value).trim().slice(0, FILE_LIMITS.cell)
          if (!counted.add(text)) isTooMuch = true
          else cells.push(text)
        }
      })
      while (cells.length && !cells.at(-1)) cells.pop()
      rows.push(cells)
    })
    if (isTooMuch) return refuse(TOO_MANY_CELLS)
    while (rows.at(-1)?.length === 0) rows.pop()
    if (rows.length) tables.push({ name: sheet.name, rows })
  }
  return fine({ format: 'XLSX', tables, notes: [...notes] })
}

function textOf(value: ExcelJS.CellValue): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? '' : value.toISOString().slice(0, 10)
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
