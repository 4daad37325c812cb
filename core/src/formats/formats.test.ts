import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { readTable } from '../roster/readTable.js'
import { schoolYearDates } from '../roster/schoolYear.js'
import { readOds, writeOds } from './ods.js'
import { readXlsx, writeXlsx } from './xlsx.js'
import { fileKind, kindProblem } from './kind.js'
import { isBundle, readBundle, writeBundle } from './rostering.js'
import { checkBundleModel } from './rosteringModel.js'
import { harmlessCell, plainCell, writeCsv } from './table.js'
import { decodeText } from './text.js'
import { isZip, unzipWithin, zipNames } from './zip.js'

describe('text of unknown encoding', () => {
  const text = 'Dąbrowska;Zofia\nSørensen;Aksel'
  const utf16 = (mark: boolean, big: boolean) => {
    const units = [...(mark ? '\uFEFF' : ''), ...text].map((letter) => letter.charCodeAt(0))
    return Uint8Array.from(units.flatMap((unit) => (big ? [unit >> 8, unit & 255] : [unit & 255, unit >> 8])))
  }
  test.each<[string, Uint8Array, string]>([
    ['UTF-8', strToU8(text), 'UTF-8'],
    ['UTF-8 with a mark', strToU8(`\uFEFF${text}`), 'UTF-8'],
    ['UTF-16 with a mark', utf16(true, false), 'UTF-16'],
    ['UTF-16 big-endian with a mark', utf16(true, true), 'UTF-16'],
    ['UTF-16 without a mark', utf16(false, false), 'UTF-16'],
    ['UTF-16 big-endian without a mark', utf16(false, true), 'UTF-16'],
  ])('%s', (_, bytes, encoding) => {
    expect(decodeText(bytes)).toEqual({ text, encoding })
  })

  test('Windows-1252, with its quotes and dashes', () => {
    const bytes = Uint8Array.from([...'O\u0092Hara;Lucía'].map((letter) => letter.charCodeAt(0)))
    expect(decodeText(bytes)).toEqual({ text: 'O’Hara;Lucía', encoding: 'Windows-1252' })
    expect(decodeText(bytes, 'UTF-8').text).toContain('\uFFFD')
  })

  test.each([
    [[0xff, 0xfe], 'UTF-8'],
    [[0xfe, 0xff], 'UTF-8'],
  ])('a mark %s that is false is left out', (mark, encoding) => {
    expect(decodeText(Uint8Array.from([...mark, ...strToU8(text)]))).toEqual({ text, encoding })
  })

  test('any bytes become text', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        expect(typeof decodeText(bytes).text).toBe('string')
      }),
    )
  })
})

describe('cells for spreadsheets', () => {
  test.each(['=1+1', '+A1', '-A1', '@SUM(A1)', '\t=1', '|calc', ' =1', '%x'])('%j cannot run', (cell) => {
    expect(harmlessCell(cell)).toBe(`'${cell}`)
  })
  test.each(['Abara', '-12', '+3,5', '12-4', "O'Hara", ''])('%j stays as it is', (cell) => {
    expect(harmlessCell(cell)).toBe(cell)
  })
  const cell = fc.string({ unit: 'grapheme', maxLength: 12 }).map((text) => text.replaceAll('\0', ''))
  test('CSV is read back as it was written', () => {
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 6 }), (rows) => {
        const filled = rows.map((row) => [...row, 'end'])
        const read = readTable(writeCsv(filled), ',')
        expect(read.ok && read.value.rows.map((row) => row.map(plainCell))).toEqual(
          filled.map((row) => row.map((text) => plainCell(harmlessCell(text)))),
        )
      }),
    )
  })
})

test('numbers are written as such, and read back as they are shown', () => {
  const rows = [
    ['Copy of', 'Words'],
    ['Abara', 12],
  ]
  const shown = [
    ['Copy of', 'Words'],
    ['Abara', '12'],
  ]
  expect(writeCsv(rows)).toContain('Abara,12')
  for (const read of [readOds(writeOds('8 Heron', rows)), readXlsx(writeXlsx('8 Heron', rows))])
    expect(read).toMatchObject({ ok: true, value: { tables: [{ rows: shown }] } })
  const sheet = (bytes: Uint8Array, part: string) => strFromU8(unzipSync(bytes)[part]!)
  expect(sheet(writeOds('8 Heron', rows), 'content.xml')).toContain('office:value="12"')
  expect(sheet(writeXlsx('8 Heron', rows), 'xl/worksheets/sheet1.xml')).toContain('<v>12</v>')
})

describe('OpenDocument spreadsheets', () => {
  const ods = (body: string) =>
    zipSync({
      'content.xml': strToU8(
        `<office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x"><office:body><office:spreadsheet>${body}</office:spreadsheet></office:body></office:document-content>`,
      ),
    })

  test('what is written is read back', () => {
    const words = fc
      .string({ unit: 'grapheme', maxLength: 10 })
      .map((text) => `n${text.replace(/[\s\p{C}\p{Zl}\p{Zp}]/gu, '')}`)
    fc.assert(
      fc.property(fc.array(fc.array(words, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 5 }), (rows) => {
        expect(readOds(writeOds('8 Heron', rows))).toEqual({
          ok: true,
          value: { format: 'ODS', tables: [{ name: '8 Heron', rows }], notes: [] },
        })
      }),
    )
  })

  test('repeated, merged, formula and annotated cells', () => {
    const read = readOds(
      ods(
        '<table:table table:name="One"><table:table-row><table:table-cell table:number-columns-spanned="2"><text:p>Abara</text:p></table:table-cell><table:covered-table-cell/><table:table-cell table:formula="of:=1+1"><text:p>2</text:p><office:annotation><text:p>a remark</text:p></office:annotation></table:table-cell></table:table-row><table:table-row table:number-rows-repeated="2"><table:table-cell table:number-columns-repeated="2"><text:p>x<text:s text:c="2"/>y</text:p><text:p>z</text:p></table:table-cell></table:table-row><table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="16384"/></table:table-row></table:table>',
      ),
    )
    expect(read).toMatchObject({
      ok: true,
      value: {
        tables: [
          {
            rows: [
              ['Abara', '', '2'],
              ['x  y\nz', 'x  y\nz'],
              ['x  y\nz', 'x  y\nz'],
            ],
          },
        ],
      },
    })
    expect(read.ok && read.value.notes).toEqual([
      'Merged cells were taken for every row they cover.',
      'Cells with a formula were taken as what they showed when saved.',
    ])
  })

  const row = (...cells: string[]) => `<table:table-row>${cells.join('')}</table:table-row>`
  const cell = (text: string, more = '') => `<table:table-cell ${more}><text:p>${text}</text:p></table:table-cell>`
  const covered = '<table:covered-table-cell/>'
  const table = (...rows: string[]) => {
    const read = readOds(ods(`<table:table table:name="One">${rows.join('')}</table:table>`))
    if (!read.ok) throw new Error(read.problems[0]!.sentence)
    return { rows: read.value.tables[0]!.rows, notes: read.value.notes }
  }

  test('what is merged over rows is in each of them, as far as they hold something of their own', () => {
    expect(
      table(
        row(cell('8 Heron', 'table:number-rows-spanned="3" table:number-columns-spanned="2"'), covered, cell('Abara')),
        row(covered, covered, cell('Rossi')),
        row(covered, covered),
        row(cell('8 Tern', 'table:number-rows-spanned="3"'), cell('', ''), cell('Sato')),
        `<table:table-row table:number-rows-repeated="2">${covered}${cell('x')}</table:table-row>`,
        row(cell(''), cell('after')),
      ),
    ).toEqual({
      rows: [
        ['8 Heron', '', 'Abara'],
        ['8 Heron', '', 'Rossi'],
        [],
        ['8 Tern', '', 'Sato'],
        ['8 Tern', 'x'],
        ['8 Tern', 'x'],
        ['', 'after'],
      ],
      notes: ['Merged cells were taken for every row they cover.'],
    })
  })

  test('dates, times and truth are what they are, however they are written; a formula without a value is said', () => {
    const formula = (more: string, text = '') => cell(text, `table:formula="of:=A1" ${more}`)
    expect(
      table(
        row(
          cell('3.5.14', 'office:value-type="date" office:date-value="2014-05-03"'),
          cell('3. Mai', 'office:value-type="date" office:date-value="2014-05-03T08:30:00"'),
          cell('8.30', 'office:value-type="time" office:time-value="PT08H30M00S"'),
          cell('WAHR', 'office:value-type="boolean" office:boolean-value="true"'),
        ),
        row(
          cell('x'),
          formula(''),
          formula('office:value-type="string"'),
          formula('office:value-type="float"', '3'),
          formula(''),
        ),
      ),
    ).toEqual({
      rows: [
        ['2014-05-03', '2014-05-03 08:30', '08:30', 'true'],
        ['x', '', '', '3'],
      ],
      notes: [
        'Cells with a formula were taken as what they showed when saved.',
        '2 cells have formulas without a saved result and are empty here (B2, E2): open the file in a spreadsheet program, save it there, and bring it in again.',
      ],
    })
  })

  describe('addresses behind links', () => {
    const linked = (text: string, target: string) =>
      `<table:table-cell><text:p><text:a xlink:href="${target}">${text}</text:a></text:p></table:table-cell>`

    test('stand in their cell where it says nothing else', () => {
      expect(
        table(
          row(cell('Abara'), linked('write', 'mailto:chidi%2Bx@fennickquay.example?subject=Hello')),
          row(cell('Rossi'), linked('write', 'mailto:giulia@fennickquay.example')),
          row(cell('Sato'), linked('mei@fennickquay.example', 'mailto:other@fennickquay.example')),
        ),
      ).toEqual({
        rows: [
          ['Abara', 'chidi+x@fennickquay.example'],
          ['Rossi', 'giulia@fennickquay.example'],
          ['Sato', 'mei@fennickquay.example'],
        ],
        notes: [],
      })
    })

    test('stand in a column of their own behind names, headed like these', () => {
      expect(
        table(
          row(cell('Guardian list')),
          row(cell('Student'), cell('Guardian'), cell('House')),
          row(cell('Abara, Chidi'), linked('Ada Abara', 'mailto:ada@post.example'), cell('Sail')),
          row(cell('Rossi, Giulia'), linked('Aldo Rossi', 'MAILTO:aldo@post.example'), cell('Rope')),
          row(cell('Sato, Mei'), linked('Ken Sato', 'https://fennickquay.example')),
        ),
      ).toEqual({
        rows: [
          ['Guardian list'],
          ['Student', 'Guardian', 'House', 'Guardian e-mail'],
          ['Abara, Chidi', 'Ada Abara', 'Sail', 'ada@post.example'],
          ['Rossi, Giulia', 'Aldo Rossi', 'Rope', 'aldo@post.example'],
          ['Sato, Mei', 'Ken Sato'],
        ],
        notes: ['The addresses behind the linked cells of column B stand in column D.'],
      })
    })
  })

  test('a row repeated a million times is refused, before it fills the memory', () => {
    const read = readOds(
      ods(
        '<table:table><table:table-row table:number-rows-repeated="9999999"><table:table-cell table:number-columns-repeated="9999999"><text:p>x</text:p></table:table-cell></table:table-row></table:table>',
      ),
    )
    expect(read).toMatchObject({ ok: false, problems: [{ code: 'file-too-much' }] })
  })

  test('a locked workbook, a broken one and no workbook each get a sentence', () => {
    const locked = zipSync({
      'content.xml': strToU8('x'),
      'META-INF/manifest.xml': strToU8('<manifest:encryption-data/>'),
    })
    for (const bytes of [
      locked,
      ods('<table:table>'),
      zipSync({ 'other.xml': strToU8('x') }),
      strToU8('PK\u0003\u0004 no'),
      ods('').slice(0, 60),
    ]) {
      const read = readOds(bytes)
      expect(read.ok ? read.value.tables : read.problems[0]!.sentence).toEqual(expect.stringMatching(/\.$/))
    }
  })
})

describe('archives', () => {
  /** An archive whose directory states another size for each file than it has. */
  const stating = (size: number, bytes: Uint8Array) => {
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    for (let at = 0; at < bytes.length - 30; at++)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, size, true)
    return bytes
  }

  test('what unpacks to too much is not unpacked', () => {
    const bomb = stating(121_000_000, zipSync({ 'content.xml': strToU8('x') }))
    expect(unzipWithin(bomb, () => true)).toMatchObject({ ok: false, problems: [{ code: 'file-too-much-inside' }] })
    expect(unzipWithin(bomb, () => false)).toEqual({ ok: true, value: {} })
  })

  test('a file that unpacks to more than it says is cut off or refused, never grown', () => {
    const bytes = stating(10, zipSync({ a: new Uint8Array(100_000).fill(65) }))
    const read = unzipWithin(bytes, () => true)
    if (read.ok) expect(read.value['a']!.length).toBeLessThanOrEqual(10)
  })

  test('any bytes are names, files or a problem', () => {
    const good = zipSync({ 'users.csv': strToU8('a,b\n1,2') })
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { maxLength: 6 }), (edits) => {
        const bytes = good.slice()
        for (const [at, value] of edits) bytes[at] = value
        for (const read of [zipNames(bytes), unzipWithin(bytes, () => true)]) expect(typeof read.ok).toBe('boolean')
      }),
      { numRuns: 300 },
    )
    expect(isZip(good)).toBe(true)
  })
})

describe('the open rostering bundle', () => {
  const person = (id: string, first: string, last: string) => ({
    id,
    first,
    last,
    email: `${id}@fennickquay.example`,
    number: `N-${id}`,
  })
  const classes = [
    {
      id: 'c1',
      name: '8 Heron',
      subject: 'Geography',
      year: '2026/27',
      students: [person('s1', 'Chidi', 'Abara'), person('s2', 'ليلى', 'حداد')],
      staff: [person('t1', 'Adaeze', 'Okonjo-Reyes')],
    },
    {
      id: 'c2',
      name: '=8 Tern',
      subject: 'Geography',
      year: '2026/27',
      students: [person('s2', 'ليلى', 'حداد')],
      staff: [],
    },
  ]

  test('what is written is read back, several classes at once', () => {
    const bytes = writeBundle({ id: 'o1', name: 'Fennick Quay School' }, classes, '2026-11-25')
    const names = zipNames(bytes)
    expect(names.ok && isBundle(names.value)).toBe(true)
    expect(readBundle(bytes)).toEqual({
      ok: true,
      value: { school: 'Fennick Quay School', classes, notes: [] },
    })
  })

  test('what is written is valid by the data model, whatever the classes are like', () => {
    expect(checkBundleModel(writeBundle({ id: 'o1', name: 'Fennick Quay School' }, classes, '2026-11-25'))).toEqual([])
    const text = fc.string({ maxLength: 20 }).map((some) => some.replace(/\s+/g, ' ').trim())
    const anyPerson = fc.record({
      id: fc.uuid(),
      first: text,
      last: text.map((last) => last || 'Abara'),
      email: fc.constantFrom('', 'a@fennickquay.example'),
      number: text,
    })
    const anyClass = fc.record({
      id: fc.uuid(),
      name: text.map((name) => name || '8 Heron'),
      subject: text,
      year: fc.oneof(text, fc.constantFrom('2026/27', '2026-2027', '2026', '')),
      students: fc.array(anyPerson, { maxLength: 4 }),
      staff: fc.array(anyPerson, { maxLength: 2 }),
    })
    fc.assert(
      fc.property(fc.array(anyClass, { minLength: 1, maxLength: 3 }), (some) => {
        expect(checkBundleModel(writeBundle({ id: 'o1', name: 'School' }, some, '2026-11-25'))).toEqual([])
      }),
    )
  })

  test('with the marks of a class: what was marked by unit, and what each has for it', () => {
    const marks = {
      marked: [
        {
          id: 'h1',
          classId: 'c1',
          title: 'Tides, at the quay',
          unit: 'Tides',
          given: '2026-11-20',
          due: '2026-11-27',
          most: 21,
        },
        { id: 'p1', classId: 'c1', title: 'Oral', unit: '', given: '2026-11-20', due: '2026-11-20', most: 10 },
      ],
      results: [
        { markedId: 'h1', studentId: 's1', status: 'fully graded' as const, score: 15.5, day: '2026-11-28' },
        { markedId: 'h1', studentId: 's2', status: 'exempt' as const, score: null, day: '2026-11-28' },
        { markedId: 'p1', studentId: 's2', status: 'not submitted' as const, score: null, day: '2026-11-28' },
      ],
    }
    const bytes = writeBundle({ id: 'o1', name: 'Fennick Quay School' }, classes, '2026-11-25', marks)
    expect(checkBundleModel(bytes)).toEqual([])
    const files = unzipSync(bytes)
    const linesOf = (name: string) => strFromU8(files[`${name}.csv`]!).trim().split(/\r?\n/)
    expect(linesOf('categories').slice(1)).toEqual(['category-1,,,Tides,', 'category-2,,,Handouts,'])
    expect(linesOf('lineItems')[1]).toBe(
      'h1,,,"Tides, at the quay",,2026-11-20,2026-11-27,c1,category-1,year-1,0,21,o1',
    )
    expect(linesOf('results').slice(1)).toEqual([
      'h1:s1,,,h1,s1,fully graded,15.5,,2026-11-28,',
      'h1:s2,,,h1,s2,exempt,,,2026-11-28,',
      'p1:s2,,,p1,s2,not submitted,,,2026-11-28,',
    ])
    // The classes are read from it as ever.
    expect(readBundle(bytes)).toMatchObject({ ok: true, value: { classes, notes: [] } })
  })

  test('the validator says what is wrong, and where', () => {
    const changed = (name: string, change: (text: string) => string) => {
      const files = unzipSync(writeBundle({ id: 'o1', name: 'School' }, classes, '2026-11-25'))
      return checkBundleModel(zipSync({ ...files, [name]: strToU8(change(strFromU8(files[name]!))) }))
    }
    expect(changed('academicSessions.csv', (text) => text.replace('2026-08-01', ''))).toContain(
      'academicSessions.csv, row 2, startDate: must not be empty.',
    )
    expect(changed('enrollments.csv', (text) => text.replace(',s2,', ',s9,'))).toEqual([
      'enrollments.csv, row 4, userSourcedId: s9 is not in users.csv.',
    ])
    expect(changed('users.csv', (text) => text.replace('username', 'login'))[0]).toMatch(/^users\.csv: its columns are/)
    expect(changed('roles.csv', (text) => text.replace('primary,student', 'primary,pupil'))[0]).toMatch(
      /pupil is none of/,
    )
    expect(changed('manifest.csv', (text) => text.replace('file.courses,bulk', 'file.courses,absent'))).toEqual([
      'manifest.csv: file.courses is absent.',
    ])
    expect(changed('classes.csv', (text) => text.replace('c1,,', 'c1,active,'))).toContain(
      'classes.csv, row 2, status: is empty in bulk data.',
    )
    expect(checkBundleModel(strToU8('no zip')).length).toBeGreaterThan(0)
  })

  test('a year is written as the school writes it, whatever part of it a class is held in', () => {
    expect(schoolYearDates('2026/27', '')).toEqual({ start: '2026-08-01', end: '2027-07-31', ends: '2027' })
    expect(schoolYearDates('2026', '')).toEqual({ start: '2026-01-01', end: '2026-12-31', ends: '2026' })
    expect(schoolYearDates('next year', '2026-03-01').ends).toBe('2026')
    const year = (sessions: string) => {
      const read = readBundle(
        zipSync({
          'users.csv': strToU8('sourcedId\nu'),
          'classes.csv': strToU8('sourcedId,title,termSourcedIds\nc,8 Heron,t'),
          'enrollments.csv': strToU8('sourcedId\n'),
          'academicSessions.csv': strToU8(
            `sourcedId,title,type,startDate,endDate,parentSourcedId,schoolYear\n${sessions}`,
          ),
        }),
      )
      return read.ok && read.value.classes[0]!.year
    }
    expect(year('t,Autumn,term,2026-08-20,2026-12-18,y,2027\ny,Year,schoolYear,2026-08-20,2027-06-30,,2027')).toBe(
      '2026/27',
    )
    expect(year('t,Autumn,term,2026-08-20,2026-12-18,,2027')).toBe('2026/27')
    expect(year('t,2026,schoolYear,2026-01-01,2026-12-31,,2026')).toBe('2026')
    expect(year('t,First form,term,,,,')).toBe('First form')
  })

  test('version 1.1: roles in users.csv, rows to be deleted, and enrolments of nobody', () => {
    const read = readBundle(
      zipSync({
        'bundle/users.csv': strToU8(
          'sourcedId,status,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName,identifier,email\nu1,active,true,o,student,chidi@fennickquay.example,,Chidi,Abara,,K-1,\nu2,tobedeleted,true,o,student,x,,X,Y,,,\nu3,active,true,o,teacher,b,,Birgit,Sandvik,,,birgit@fennickquay.example\n',
        ),
        'bundle/classes.csv': strToU8(
          'sourcedId,status,title,courseSourcedId,classCode,termSourcedIds\nc1,,7 Dunlin,k1,7D,"y1,y2"\n',
        ),
        'bundle/courses.csv': strToU8('sourcedId,title\nk1,Science\n'),
        'bundle/academicSessions.csv': strToU8('sourcedId,title,schoolYear\ny1,Year 26,2027\n'),
        'bundle/enrollments.csv': strToU8(
          'sourcedId,classSourcedId,userSourcedId,role\ne1,c1,u1,student\ne2,c1,u2,student\ne3,c1,u3,teacher\n',
        ),
      }),
    )
    expect(read).toMatchObject({
      ok: true,
      value: {
        classes: [
          {
            name: '7 Dunlin',
            subject: 'Science',
            year: '2026/27',
            students: [{ first: 'Chidi', email: 'chidi@fennickquay.example', number: 'K-1' }],
            staff: [{ last: 'Sandvik' }],
          },
        ],
      },
    })
    expect(read.ok && read.value.notes).toEqual(['1 enrolment names a person or a class that is not in the bundle.'])
  })

  test('a bundle without classes says so', () => {
    expect(readBundle(zipSync({ 'users.csv': strToU8('a\n1') }))).toMatchObject({
      ok: false,
      problems: [{ code: 'bundle-empty' }],
    })
  })
})

describe('what a file is', () => {
  test.each<[string, Uint8Array, string]>([
    ['text', strToU8('Abara,Chidi'), 'text'],
    ['Windows-1252', Uint8Array.from([0x4c, 0x75, 0x63, 0xed, 0x61]), 'text'],
    ['UTF-16 without a mark', Uint8Array.from([65, 0, 66, 0, 67, 0]), 'text'],
    ['an archive', zipSync({ a: strToU8('x') }), 'archive'],
    ['an old workbook', Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 1]), 'old or locked workbook'],
    ['a PDF', strToU8('%PDF-1.7'), 'document or picture'],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13]), 'document or picture'],
    ['a program', Uint8Array.from([0x7f, 0x45, 0x4c, 0x46, 2, 1, 1, 0, 0, 3]), 'unknown'],
  ])('%s', (_, bytes, kind) => {
    expect(fileKind(bytes)).toBe(kind)
    expect(kindProblem(fileKind(bytes)) === '').toBe(kind === 'text' || kind === 'archive')
  })
})
