import { strFromU8, strToU8, zipSync } from 'fflate'
import { SaxesParser, type SaxesTagPlain } from 'saxes'
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

// Office Open XML (ECMA-376, part 1): a workbook is a zip archive with a file for each sheet; texts stand in a list of their own,
// and whether a number is a date is told by its style.

/** Merged ranges of a sheet that are looked at. */
const MERGED_LIMIT = 20_000
/** Styles of numbers that are dates or times without saying so (18.8.30). */
const DATE_STYLES: ReadonlySet<number> = new Set([14, 15, 16, 17, 18, 19, 20, 21, 22, 45, 46, 47])
const DAY = 86_400_000
/** Days between the first one of a workbook and 1970 (18.17.4.1); those of 1904 begin four years later. */
const DAYS_TO_1970 = 25_569
const DAYS_TO_1904 = 1_462

class TooMuch extends Error {}

/** Reads a workbook: the cells as they were shown when it was saved. */
export function readXlsx(bytes: Uint8Array): Outcome<TableFile> {
  const files = unzipWithin(bytes, (name) => /\.(xml|rels)$/i.test(name))
  if (!files.ok) return files
  try {
    return fine(new WorkbookReader(files.value).read())
  } catch (error) {
    return error instanceof TooMuch
      ? refuse(TOO_MANY_CELLS)
      : refuse({
          code: 'file-broken',
          field: 'file',
          sentence: 'This workbook is damaged: save it again where it came from.',
        })
  }
}

interface Styles {
  /** By the number of a style: whether it is of dates. */
  readonly dates: readonly boolean[]
  /** How many digits are shown at least; 0: as many as there are. */
  readonly digits: readonly number[]
}

/** One cell of a sheet, as it is read. */
interface Cell {
  readonly column: number
  readonly type: string
  readonly style: number
  value: string
  formula: string | null
  shared: string
}

/** Cells from one to another, all counted from 0. */
interface Range {
  readonly top: number
  readonly left: number
  readonly bottom: number
  readonly right: number
}

class WorkbookReader {
  private readonly notes = new Set<string>()
  private readonly counted = new CellCount()
  private texts: readonly string[] = []
  private styles: Styles = { dates: [], digits: [] }
  private is1904 = false

  constructor(private readonly files: Readonly<Record<string, Uint8Array>>) {}

  read(): TableFile {
    const sheets: { name: string; id: string; isHidden: boolean }[] = []
    this.parse('xl/workbook.xml', {
      open: ({ name, attributes }) => {
        if (name === 'workbookPr') this.is1904 = ['1', 'true'].includes(attributes['date1904'] ?? '')
        if (name === 'sheet')
          sheets.push({
            name: attributes['name'] ?? '',
            id: attributes['id'] ?? '',
            isHidden: (attributes['state'] ?? 'visible') !== 'visible',
          })
      },
    })
    this.texts = this.readTexts()
    this.styles = this.readStyles()
    const targets = this.targetsOf('xl/workbook.xml')
    const tables: Table[] = []
    for (const { name, id, isHidden } of sheets.slice(0, FILE_LIMITS.tables)) {
      if (isHidden) {
        this.notes.add('Hidden sheets were passed over.')
        continue
      }
      const path = pathWithin('xl/', targets.get(id) ?? '')
      // A sheet of charts has no rows; one that is missing makes the workbook a broken one.
      if (path.includes('chartsheets/')) continue
      const rows = this.readSheet(path)
      if (rows.length > 0) tables.push({ name, rows })
    }
    return { format: 'XLSX', tables, notes: [...this.notes] }
  }

  /** Reads a file of the archive; names of tags and attributes come without the prefixes that some programs give them. */
  private parse(
    path: string,
    on: {
      readonly open?: (tag: SaxesTagPlain) => void
      readonly text?: (text: string) => void
      readonly close?: (name: string) => void
    },
  ): void {
    const file = this.files[path]
    if (!file) throw new Error(`${path} is missing.`)
    const parser = new SaxesParser({ position: false })
    const plain = (name: string) => name.slice(name.indexOf(':') + 1)
    parser.on('opentag', (tag) => {
      const attributes = Object.fromEntries(Object.entries(tag.attributes).map(([name, value]) => [plain(name), value]))
      on.open?.({ ...tag, name: plain(tag.name), attributes })
    })
    parser.on('text', (text) => on.text?.(text))
    parser.on('closetag', ({ name }) => on.close?.(plain(name)))
    parser.on('error', (error) => {
      throw error
    })
    parser.write(strFromU8(file)).close()
  }

  /** What a file points to, by the id under which it speaks of it. */
  private targetsOf(path: string): Map<string, string> {
    const at = path.lastIndexOf('/') + 1
    const relations = `${path.slice(0, at)}_rels/${path.slice(at)}.rels`
    const targets = new Map<string, string>()
    if (this.files[relations])
      this.parse(relations, {
        open: ({ name, attributes }) => {
          if (name === 'Relationship') targets.set(attributes['Id'] ?? '', attributes['Target'] ?? '')
        },
      })
    return targets
  }

  /** The texts that cells point to; how they are to be read aloud is left out. */
  private readTexts(): string[] {
    const texts: string[] = []
    if (!this.files['xl/sharedStrings.xml']) return texts
    let text = ''
    let inText = false
    let aloud = 0
    this.parse('xl/sharedStrings.xml', {
      open: ({ name }) => {
        if (name === 'si') text = ''
        else if (name === 'rPh') aloud++
        else if (name === 't') inText = aloud === 0
      },
      text: (part) => {
        if (inText && text.length < FILE_LIMITS.cell) text += part
      },
      close: (name) => {
        if (name === 't') inText = false
        else if (name === 'rPh') aloud--
        else if (name === 'si') texts.push(text)
      },
    })
    return texts
  }

  private readStyles(): Styles {
    const formats = new Map<number, string>()
    const dates: boolean[] = []
    const digits: number[] = []
    let inCells = false
    if (this.files['xl/styles.xml'])
      this.parse('xl/styles.xml', {
        open: ({ name, attributes }) => {
          if (name === 'numFmt') formats.set(Number(attributes['numFmtId']), attributes['formatCode'] ?? '')
          else if (name === 'cellXfs') inCells = true
          else if (name === 'xf' && inCells) {
            const id = Number(attributes['numFmtId'] ?? 0)
            const format = formats.get(id)
            dates.push(format === undefined ? DATE_STYLES.has(id) : isDateFormat(format))
            digits.push(/^0{2,20}$/.test(format ?? '') ? format!.length : 0)
          }
        },
        close: (name) => {
          if (name === 'cellXfs') inCells = false
        },
      })
    return { dates, digits }
  }

  private readSheet(path: string): string[][] {
    const gathered = new SheetRows()
    const { rows } = gathered
    const sharedFormulas = new Map<string, string>()
    const merged: Range[] = []
    const links: { row: number; column: number; target: string }[] = []
    const empties: { row: number; column: number }[] = []
    const targets = this.targetsOf(path)
    let row = -1
    let column = -1
    let cell: Cell | null = null
    let reading: 'value' | 'formula' | null = null
    let aloud = 0
    this.parse(path, {
      open: ({ name, attributes }) => {
        switch (name) {
          case 'row':
            row = attributes['r'] ? Number(attributes['r']) - 1 : row + 1
            column = -1
            break
          case 'c': {
            column = attributes['r'] ? placeOf(attributes['r']).column : column + 1
            cell = {
              column,
              type: attributes['t'] ?? 'n',
              style: Number(attributes['s'] ?? 0),
              value: '',
              formula: null,
              shared: '',
            }
            break
          }
          case 'f':
            if (!cell) break
            cell.formula = ''
            cell.shared = attributes['t'] === 'shared' ? (attributes['si'] ?? '') : ''
            reading = 'formula'
            break
          case 'rPh':
            aloud++
            break
          case 'v':
          case 't':
            if (cell && aloud === 0) reading = 'value'
            break
          case 'mergeCell':
            if (merged.length < MERGED_LIMIT) merged.push(...rangeOf(attributes['ref'] ?? ''))
            break
          case 'hyperlink': {
            const target = targets.get(attributes['id'] ?? '')
            if (target && links.length < FILE_LIMITS.rows) {
              const place = placeOf(attributes['ref'] ?? '')
              links.push({ ...place, target })
            }
            break
          }
        }
      },
      text: (text) => {
        if (!cell || !reading) return
        if (reading === 'formula') cell.formula = (cell.formula + text).slice(0, FILE_LIMITS.cell)
        else if (cell.value.length < FILE_LIMITS.cell) cell.value += text
      },
      close: (name) => {
        if (name === 'rPh') aloud--
        else if (name === 'f' || name === 'v' || name === 't') reading = null
        else if (name === 'c' && cell) {
          const read = cell
          cell = null
          if (!(row >= 0 && row < FILE_LIMITS.rows && read.column >= 0 && read.column < FILE_LIMITS.columns)) return
          const text = this.shownIn(read)
          if (!this.counted.add(text)) throw new TooMuch()
          if (read.formula !== null) {
            this.notes.add(SHEET_NOTES.formulas)
            if (read.shared && read.formula) sharedFormulas.set(read.shared, read.formula)
            const formula = read.formula || (sharedFormulas.get(read.shared) ?? '')
            if (!text && !formula.includes('""')) empties.push({ row, column: read.column })
            const target = linkOf(formula)
            if (target) links.push({ row, column: read.column, target })
          }
          if (text) put(rows, row, read.column, text)
        }
      },
    })
    const covered = this.merge(rows, merged)
    for (const { row: at, column: of } of empties) if (!covered(at, of)) gathered.withoutValue(at, of)
    for (const { row: at, column: of, target } of links)
      if (rows[at] && !(rows[at][of] ?? '').includes('@') && !covered(at, of)) gathered.link(at, of, target)
    for (const cells of rows) while (cells.length && !cells.at(-1)) cells.pop()
    while (rows.at(-1)?.length === 0) rows.pop()
    for (const note of gathered.finish()) this.notes.add(note)
    return rows
  }

  /**
   * What is merged over several rows is said in each that holds something of its own; over several columns it is said once.
   * @returns whether a cell lies under another one
   */
  private merge(rows: string[][], merged: readonly Range[]): (row: number, column: number) => boolean {
    if (merged.length === 0) return () => false
    this.notes.add(SHEET_NOTES.merged)
    const covered = new Set<string>()
    const shown: { row: number; column: number; text: string }[] = []
    for (const { top, left, bottom, right } of merged)
      for (let row = top; row <= Math.min(bottom, rows.length - 1); row++)
        for (let column = left; column <= Math.min(right, FILE_LIMITS.columns - 1); column++) {
          if (row === top && column === left) continue
          covered.add(`${row} ${column}`)
          const text = rows[top]?.[left] ?? ''
          // Each look costs, whether something is there or not.
          if (!this.counted.add(text)) throw new TooMuch()
          const cells = rows[row]
          if (cells && column < cells.length) cells[column] = ''
          if (column === left && text) shown.push({ row, column, text })
        }
    const full = new Set(shown.flatMap(({ row }) => (rows[row]?.some(Boolean) ? [row] : [])))
    for (const { row, column, text } of shown) if (full.has(row)) put(rows, row, column, text)
    return (row, column) => covered.has(`${row} ${column}`)
  }

  /** What a cell shows; a number that is shown with leading noughts has them. */
  private shownIn({ type, style, value }: Cell): string {
    switch (type) {
      case 's':
        return (this.texts[Number(value)] ?? '').trim().slice(0, FILE_LIMITS.cell)
      case 'b':
        return value ? String(value === '1' || value === 'true') : ''
      case 'e':
        return ''
      case 'd':
        return dateText(value)
      case 'n':
        return this.numberIn(value, style)
      default:
        return value.trim().slice(0, FILE_LIMITS.cell)
    }
  }

  private numberIn(value: string, style: number): string {
    if (value.trim() === '') return ''
    const number = Number(value)
    if (!Number.isFinite(number)) return value.trim()
    if (this.styles.dates[style]) return timeIn(number, this.is1904)
    const text = String(number)
    return /^\d+$/.test(text) ? text.padStart(this.styles.digits[style] ?? 0, '0') : text
  }
}

/** Days since the first one of a workbook as a date, a time of day alone as a time. */
function timeIn(days: number, is1904: boolean): string {
  const at = Math.round((days - DAYS_TO_1970 + (is1904 ? DAYS_TO_1904 : 0)) * DAY)
  if (Math.abs(at) > 8.64e15) return ''
  const text = new Date(at).toISOString()
  return days >= 0 && days < 1 ? text.slice(11, 16) : dateText(text)
}

/** Whether a format (18.8.31) shows days or times: letters for them stand outside of quotes and brackets. */
const isDateFormat = (format: string): boolean =>
  /[dmyhs]/i.test(format.replace(/"[^"]*"|\\.|_.|\[(?!(?:h+|m+|s+)\])[^\]]*\]/gi, '').replace(/general|standard/gi, ''))

/** The place of a cell such as `AB12`, both counted from 0. */
function placeOf(name: string): { row: number; column: number } {
  const found = /^\$?([A-Z]{1,3})\$?(\d{1,7})/i.exec(name)
  if (!found) return { row: -1, column: -1 }
  const column = [...found[1]!.toUpperCase()].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0) - 1
  return { row: Number(found[2]) - 1, column }
}

/** A range such as `A1:B3`; none if it is none. */
function rangeOf(name: string): Range[] {
  const [from = '', to = from] = name.split(':')
  const [first, last] = [placeOf(from), placeOf(to)]
  return first.row < 0 || last.row < 0
    ? []
    : [{ top: first.row, left: first.column, bottom: last.row, right: last.column }]
}

function put(rows: string[][], row: number, column: number, text: string): void {
  while (rows.length <= row) rows.push([])
  const cells = rows[row]!
  while (cells.length < column) cells.push('')
  cells[column] = text
}

/** The path of a file that another one points to: from the root of the archive, or from its own folder. */
const pathWithin = (folder: string, target: string): string =>
  target.startsWith('/') ? target.slice(1) : folder + target.replace(/^\.\//, '')

const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const RELATIONS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006'
const TYPE = 'application/vnd.openxmlformats-officedocument.spreadsheetml'

/** A workbook with one sheet; the first row is its head and stays in view. */
export function writeXlsx(name: string, rows: readonly (readonly OutCell[])[]): Uint8Array {
  // Signs that a sheet's name cannot have, and the length it can.
  const title =
    name
      .replace(/[\\/*?:[\]']/g, ' ')
      .trim()
      .slice(0, 31) || 'Roster'
  const columns = rows.reduce((most, row) => Math.max(most, row.length), 1)
  const widths = Array.from({ length: columns }, (_, at) => {
    const widest = rows.slice(0, 200).reduce((most, row) => Math.max(most, String(row[at] ?? '').length), 0)
    return Math.min(50, Math.max(10, widest + 2))
  })
  // Texts are texts (style 1), so that a student number keeps its leading noughts; the head is bold (style 2).
  const cell = (value: OutCell, style: number) =>
    typeof value === 'number'
      ? `<c s="0"><v>${value}</v></c>`
      : `<c t="inlineStr" s="${style}"><is><t xml:space="preserve">${escapeXml(harmlessCell(value))}</t></is></c>`
  const sheet = `${XML}<worksheet xmlns="${MAIN}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><cols>${widths
    .map((width, at) => `<col min="${at + 1}" max="${at + 1}" width="${width}" style="1" customWidth="1"/>`)
    .join('')}</cols><sheetData>${rows
    .map((row, at) => `<row r="${at + 1}">${row.map((text) => cell(text, at === 0 ? 2 : 1)).join('')}</row>`)
    .join('')}</sheetData></worksheet>`
  const styles = `${XML}<styleSheet xmlns="${MAIN}"><fonts count="2"><font/><font><b/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="3"><xf/><xf numFmtId="49" applyNumberFormat="1"/><xf numFmtId="49" fontId="1" applyNumberFormat="1" applyFont="1"/></cellXfs></styleSheet>`
  const relation = (id: number, type: string, target: string) =>
    `<Relationship Id="rId${id}" Type="${RELATIONS}/${type}" Target="${target}"/>`
  const part = (path: string, type: string) => `<Override PartName="${path}" ContentType="${TYPE}.${type}+xml"/>`
  return zipSync({
    '[Content_Types].xml': strToU8(
      `${XML}<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>${part('/xl/workbook.xml', 'sheet.main')}${part('/xl/worksheets/sheet1.xml', 'worksheet')}${part('/xl/styles.xml', 'styles')}</Types>`,
    ),
    '_rels/.rels': strToU8(
      `${XML}<Relationships xmlns="${PACKAGE}/relationships">${relation(1, 'officeDocument', 'xl/workbook.xml')}</Relationships>`,
    ),
    'xl/workbook.xml': strToU8(
      `${XML}<workbook xmlns="${MAIN}" xmlns:r="${RELATIONS}"><sheets><sheet name="${escapeXml(title)}" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    ),
    'xl/_rels/workbook.xml.rels': strToU8(
      `${XML}<Relationships xmlns="${PACKAGE}/relationships">${relation(1, 'worksheet', 'worksheets/sheet1.xml')}${relation(2, 'styles', 'styles.xml')}</Relationships>`,
    ),
    'xl/worksheets/sheet1.xml': strToU8(sheet),
    'xl/styles.xml': strToU8(styles),
  })
}
