import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { FILE_LIMITS, harmlessCell } from './table.js'
import { readXlsx, writeXlsx } from './xlsx.js'

/** A workbook of one sheet, with what else is in its archive. */
const workbook = (sheet: string, more: Record<string, string> = {}, book = ''): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries({
        'xl/workbook.xml': `<workbook xmlns:r="r">${book}<sheets><sheet name="One" r:id="a"/></sheets></workbook>`,
        'xl/_rels/workbook.xml.rels': '<Relationships><Relationship Id="a" Target="worksheets/s.xml"/></Relationships>',
        'xl/worksheets/s.xml': `<worksheet xmlns:r="r">${sheet}</worksheet>`,
        ...more,
      }).map(([name, text]) => [name, strToU8(text)]),
    ),
  )

const rowsOf = (bytes: Uint8Array): string[][] => {
  const read = readXlsx(bytes)
  if (!read.ok) throw new Error(read.problems[0]?.sentence)
  return read.value.tables[0]?.rows ?? []
}

describe('what is written is read again', () => {
  const word = fc.string({ minLength: 1, maxLength: 12 }).map((text) => text.replace(/[\p{C}\s=+\-@']/gu, 'x'))
  test('every cell, whatever signs are in it', () => {
    fc.assert(
      fc.property(fc.array(fc.array(word, { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 8 }), (rows) => {
        expect(rowsOf(writeXlsx('List', rows))).toEqual(rows.map((row) => row.map((cell) => harmlessCell(cell))))
      }),
    )
  })

  test('a name that a sheet cannot have, and a formula that is none', () => {
    const bytes = writeXlsx("a/b'c" + 'd'.repeat(40), [['=1+1', '007']])
    expect(strFromU8(unzipSync(bytes)['xl/workbook.xml']!)).toContain(`name="a b c${'d'.repeat(26)}"`)
    expect(rowsOf(bytes)).toEqual([["'=1+1", '007']])
  })
})

describe('as other programs save it', () => {
  test('cells without a place come one after the other, with prefixes and texts in parts', () => {
    const bytes = zipSync({
      'xl/workbook.xml': strToU8(
        '<x:workbook xmlns:x="m" xmlns:r="r"><x:sheets><x:sheet name="Ä" r:id="a"/></x:sheets></x:workbook>',
      ),
      'xl/_rels/workbook.xml.rels': strToU8('<Relationships><Relationship Id="a" Target="/xl/s.xml"/></Relationships>'),
      'xl/sharedStrings.xml': strToU8(
        '<x:sst xmlns:x="m"><x:si><x:r><x:t>Bą</x:t></x:r><x:r><x:t>k</x:t></x:r><x:rPh><x:t>read aloud</x:t></x:rPh></x:si></x:sst>',
      ),
      'xl/s.xml': strToU8(
        '<x:worksheet xmlns:x="m"><x:sheetData><x:row><x:c t="s"><x:v>0</x:v></x:c><x:c><x:v>1e3</x:v></x:c></x:row></x:sheetData></x:worksheet>',
      ),
    })
    expect(rowsOf(bytes)).toEqual([['Bąk', '1000']])
  })

  test('dates are known by their style, also where days count from 1904', () => {
    const styles =
      '<styleSheet><numFmts><numFmt numFmtId="170" formatCode="[$-409]d\\.m\\.yyyy;@"/><numFmt numFmtId="171" formatCode="&quot;day&quot; 0"/></numFmts><cellXfs><xf/><xf numFmtId="170"/><xf numFmtId="171"/><xf numFmtId="20"/></cellXfs></styleSheet>'
    const sheet =
      '<sheetData><row r="1"><c r="A1" s="1"><v>41762.354166666664</v></c><c r="B1" s="2"><v>5</v></c><c r="C1" s="3"><v>0.5</v></c><c r="D1" t="d"><v>2026-11-12T00:00:00</v></c></row></sheetData>'
    expect(rowsOf(workbook(sheet, { 'xl/styles.xml': styles }))).toEqual([
      ['2014-05-03 08:30', '5', '12:00', '2026-11-12'],
    ])
    expect(rowsOf(workbook(sheet, { 'xl/styles.xml': styles }, '<workbookPr date1904="1"/>'))[0]![0]).toBe(
      '2018-05-04 08:30',
    )
  })

  test('a shared formula counts as one in every cell', () => {
    const sheet =
      '<sheetData><row r="1"><c r="A1"><f t="shared" si="0" ref="A1:A2">B1</f></c></row><row r="2"><c r="A2"><f t="shared" si="0"/><v>x</v></c></row></sheetData>'
    const read = readXlsx(workbook(sheet))
    expect(
      read.ok && read.value.notes.some((note) => note.startsWith('One cell has a formula without a saved result')),
    ).toBe(true)
  })

  test('what lies under a merged cell is said once a row, where the row has something of its own', () => {
    const cell = (place: string, text: string) => `<c r="${place}" t="str"><v>${text}</v></c>`
    const sheet = `<sheetData><row r="1">${cell('A1', 'crew')}${cell('B1', 'under')}${cell('C1', 'Ana')}</row><row r="2">${cell('C2', 'Bo')}</row><row r="3">${cell('A3', 'gone')}</row></sheetData><mergeCells><mergeCell ref="A1:B3"/></mergeCells>`
    expect(rowsOf(workbook(sheet))).toEqual([
      ['crew', '', 'Ana'],
      ['crew', '', 'Bo'],
    ])
  })
})

describe('what costs too much', () => {
  test('a place far down or far right is not filled up to', () => {
    const sheet = `<sheetData><row r="1"><c r="A1"><v>1</v></c><c r="XFD1"><v>2</v></c></row><row r="1048576"><c r="A1048576"><v>3</v></c></row></sheetData>`
    expect(rowsOf(workbook(sheet))).toEqual([['1']])
  })

  test('merged ranges over each other are counted, and refused', () => {
    const last = FILE_LIMITS.rows
    const sheet = `<sheetData><row r="1"><c r="A1"><v>1</v></c></row><row r="${last}"><c r="A${last}"><v>1</v></c></row></sheetData><mergeCells>${'<mergeCell ref="A1:CV1048576"/>'.repeat(500)}</mergeCells>`
    const read = readXlsx(workbook(sheet))
    expect(read.ok).toBe(false)
  })

  test('one that lacks a sheet it speaks of is damaged', () => {
    const read = readXlsx(
      zipSync({ 'xl/workbook.xml': strToU8('<workbook><sheets><sheet name="One"/></sheets></workbook>') }),
    )
    expect(read.ok ? '' : read.problems[0]!.code).toBe('file-broken')
  })
})
