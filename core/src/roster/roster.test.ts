import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { type RosterMember, checkRoster } from './check.js'
import { emailKey, isEmail } from './email.js'
import { fullName, listName, nameOrder } from './names.js'
import { checkColumnName, tagsOf, withTag, withoutTag } from './columns.js'
import { findAll, isFound } from './find.js'
import { personTwins } from './twins.js'
import { readTable } from './readTable.js'
import { ROSTER_ROW_LIMIT, type RosterReading, asksForAddress, understandRoster } from './understand.js'

const parseRoster = (text: string, reading: RosterReading = {}) => {
  const table = readTable(text)
  return table.ok ? understandRoster(table.value.rows, reading) : table
}
const read = (text: string, reading: RosterReading = {}) => {
  const parsed = parseRoster(text, reading)
  if (!parsed.ok) throw new Error(parsed.problems[0]!.sentence)
  return parsed.value
}
const row = (last: string, first: string, email: string) => ({ last, first, email })

describe('reading pasted rows', () => {
  test.each([
    ['tabs', 'Abara\tChidi\tchidi@fennickquay.example\nRossi\tGiulia\tgiulia@fennickquay.example'],
    ['commas', 'Abara,Chidi,chidi@fennickquay.example\nRossi,Giulia,giulia@fennickquay.example'],
    ['semicolons', 'Abara;Chidi;chidi@fennickquay.example\nRossi;Giulia;giulia@fennickquay.example'],
    [
      'a header',
      'Last name,First name,E-mail\nAbara,Chidi,chidi@fennickquay.example\nRossi,Giulia,giulia@fennickquay.example',
    ],
    [
      'a header in German',
      'Nachname;Vorname;E-Mail\r\nAbara;Chidi;chidi@fennickquay.example\r\nRossi;Giulia;giulia@fennickquay.example',
    ],
    [
      'other columns between',
      'No;Surname;Mail;Given name\n1;Abara;chidi@fennickquay.example;Chidi\n2;Rossi;giulia@fennickquay.example;Giulia',
    ],
    [
      'first name first, no header',
      'Chidi\tAbara\tchidi@fennickquay.example\nGiulia\tRossi\tgiulia@fennickquay.example',
    ],
    ['"Last, First" in one cell', 'Abara, Chidi\tchidi@fennickquay.example\nRossi, Giulia\tgiulia@fennickquay.example'],
    [
      'a byte order mark and blank rows',
      '\uFEFFAbara\tChidi\tchidi@fennickquay.example\n\n\t\t\nRossi\tGiulia\tgiulia@fennickquay.example\n',
    ],
  ])('understands %s', (_, text) => {
    expect(read(text).entries.map(({ last, first, email }) => row(last, first, email))).toEqual([
      row('Abara', 'Chidi', 'chidi@fennickquay.example'),
      row('Rossi', 'Giulia', 'giulia@fennickquay.example'),
    ])
  })

  test('a heading that lies is overruled by what is in the column', () => {
    const { roles } = read('E-mail,Last name,First name,Contact\n12,Abara,Chidi,chidi@fennickquay.example')
    expect(roles).toEqual(['keep', 'last', 'first', 'email'])
  })

  describe('addresses of others', () => {
    const own = ['giulia.rossi', 'marco.rossi', 'zofia.dabrowska', 'finn.ohara']
    const rows = [
      ['Rossi', 'Giulia', 'claudia.rossi@post.example', 'giulia.rossi@fennickquay.example'],
      ['Rossi', 'Marco', 'claudia.rossi@post.example', 'marco.rossi@fennickquay.example'],
      ['Dąbrowska', 'Zofia', 'j.dabrowski@post.example', 'zofia.dabrowska@fennickquay.example'],
      ['O’Hara', 'Finn', 'ohara-family@post.example', 'finn.ohara@fennickquay.example'],
    ]
    const emails = (headings: readonly string[] | null, order: readonly number[] = [0, 1, 2, 3]) => {
      const table = [...(headings ? [headings] : []), ...rows].map((cells) => order.map((column) => cells[column]!))
      const understood = understandRoster(table)
      if (!understood.ok) throw new Error(understood.problems[0]!.sentence)
      return { ...understood.value, own: understood.value.entries.map(({ email }) => email.split('@')[0]) }
    }

    test.each([
      ['Surname', 'Forename', 'Parent e-mail', 'E-mail'],
      ['Surname', 'Forename', 'E-mail', 'Student e-mail'],
      ['Last name', 'First name', 'Email (mother)', 'Email (pupil)'],
      ['Nachname', 'Vorname', 'E-Mail der Eltern', 'E-Mail'],
      ['Nachname', 'Vorname', 'E-Mail', 'E-Mail Schüler'],
      ['Nom', 'Prénom', 'Courriel du père', 'Courriel'],
      ['Nom', 'Prénom', 'Mail responsable légal', 'Mail élève'],
      ['Apellidos', 'Nombre', 'Correo de la madre', 'Correo'],
      ['Cognome', 'Nome', 'E-mail genitore', 'E-mail'],
      ['Achternaam', 'Voornaam', 'E-mail ouders', 'E-mail leerling'],
      ['Nazwisko', 'Imię', 'E-mail rodzica', 'E-mail ucznia'],
      ['Фамилия', 'Имя', 'Почта родителей', 'Почта'],
      ['Surname', 'Forename', 'Home', 'School'],
      ['Surname', 'Forename', 'E-mail', 'E-mail'],
    ])('are not taken for the students’ own: %s, %s, %s, %s', (...headings) => {
      expect(emails(headings).own).toEqual(own)
      // In whichever order the columns come.
      expect(emails(headings, [2, 3, 0, 1]).own).toEqual(own)
      expect(emails(headings, [3, 0, 1, 2]).own).toEqual(own)
    })

    test('nor where there are no headings; and it is told that there are two columns of them', () => {
      expect(emails(null)).toMatchObject({ own, addresses: [2, 3] })
      expect(emails(null, [2, 3, 0, 1])).toMatchObject({ own, addresses: [0, 1] })
      // It is asked until it is said, also that none of them is; never where there is one column.
      expect([{}, { ownAddress: 2 }, { ownAddress: -1 }].map((said) => asksForAddress(emails(null), said))).toEqual([
        true,
        false,
        false,
      ])
      expect(asksForAddress(emails(null, [0, 1, 3]), {})).toBe(false)
    })

    test('a column that is headed as a parent’s is never the students’, though it is the only one', () => {
      const understood = emails(['Surname', 'Forename', 'Parent e-mail', 'House'], [0, 1, 2])
      expect(understood.roles).toEqual(['last', 'first', 'keep'])
      expect(understood.own).toEqual(['', '', '', ''])
      expect(understood.addresses).toEqual([2])
    })

    test('what somebody says about them is followed', () => {
      const headings = ['Surname', 'Forename', 'Parent e-mail', 'E-mail']
      const read = (ownAddress: number) => {
        const understood = understandRoster([headings, ...rows], { ownAddress })
        return understood.ok ? understood.value.roles : []
      }
      expect(read(2)).toEqual(['last', 'first', 'email', 'keep'])
      expect(read(3)).toEqual(['last', 'first', 'keep', 'email'])
      expect(read(-1)).toEqual(['last', 'first', 'keep', 'keep'])
    })

    test('names of parents are not the students’ either', () => {
      const { roles } = read(
        'Father’s surname,Father’s name,Student surname,Student first name\nRossi,Aldo,Rossi,Giulia\nRossi,Aldo,Rossi,Marco',
      )
      expect(roles).toEqual(['keep', 'keep', 'last', 'first'])
    })
  })

  test('columns that nobody asked for are kept under their headings; a count of the rows is not', () => {
    const { roles, entries, headings } = read(
      'No,Last name,First name,Student ID,Reading band,Reading band\n1,Abara,Chidi,K-104,A,x\n2,Rossi,Giulia,K-105,B,y',
    )
    expect(roles).toEqual(['unused', 'last', 'first', 'number', 'keep', 'keep'])
    expect(headings[5]).toBe('Reading band (F)')
    expect(entries[1]).toMatchObject({ number: 'K-105', cells: { 'Reading band': 'B', 'Reading band (F)': 'y' } })
  })

  test('student numbers are not guessed where two are alike', () => {
    expect(read('Last name,First name,ID\nAbara,Chidi,7\nRossi,Giulia,7').roles[2]).toBe('keep')
  })

  test('a first line "sep=" and bars are understood', () => {
    for (const text of ['sep=;\nLast name;First name\nAbara;Chidi', 'Last name|First name\nAbara|Chidi'])
      expect(read(text).entries).toMatchObject([{ last: 'Abara', first: 'Chidi' }])
  })

  test('one class can be taken out of a list of the whole school', () => {
    const rows = [
      ['Last name', 'First name', 'Class'],
      ['Abara', 'Chidi', '8 Heron'],
      ['Rossi', 'Giulia', '8 Tern'],
      ['Petrov', 'Даниил', '8 heron '],
    ]
    const understood = understandRoster(rows, { only: { column: 2, value: '8 Heron' } })
    expect(understood.ok && understood.value.entries.map(({ last }) => last)).toEqual(['Abara', 'Petrov'])
  })

  test('quotes and line breaks within a cell are kept apart from those between rows', () => {
    const { entries } = read('"Abara","Chidi ""Chi""\nJunior",chidi@fennickquay.example')
    expect(entries).toHaveLength(1)
    expect(entries[0]).toMatchObject({ last: 'Abara', first: 'Chidi "Chi" Junior' })
  })

  test('a name in one cell without a comma is parted, and that is said', () => {
    const [entry] = read('Name\tE-mail\nMinh Anh Nguyễn\tminh@fennickquay.example').entries
    expect(entry).toMatchObject({ first: 'Minh Anh', last: 'Nguyễn', partedByGuess: true })
  })

  test('a one-word name stays one word', () => {
    expect(read('Name\tE-mail\nSuryani\tsuryani@fennickquay.example').entries[0]).toMatchObject({
      first: 'Suryani',
      last: '',
    })
  })

  test('what was guessed can be overruled', () => {
    const swapped = read('Chidi\tAbara\tchidi@fennickquay.example', { roles: ['last', 'first', 'email'] })
    expect(swapped.entries[0]).toMatchObject({ last: 'Chidi', first: 'Abara' })
    expect(read('Name\tE-mail\nA\tb@c.example', { heading: null }).entries).toHaveLength(2)
  })

  test('nothing, only a header, and too many rows each get a sentence', () => {
    for (const text of ['', '  \n ', 'Last name\tFirst name\tE-mail', 'a\tb\n'.repeat(ROSTER_ROW_LIMIT + 2)]) {
      const parsed = parseRoster(text)
      expect(parsed.ok).toBe(false)
      if (!parsed.ok) expect(parsed.problems[0]!.sentence).toMatch(/\.$/)
    }
  })

  test('any text is a value or a problem, never a throw, and no row is lost', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => {
        const parsed = parseRoster(text)
        if (parsed.ok) expect(parsed.value.entries.length).toBeGreaterThan(0)
        else expect(parsed.problems.length).toBeGreaterThan(0)
      }),
      { numRuns: 500 },
    )
  })

  test('rows written out are read back the same, whatever the names', () => {
    const name = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 30 })
      .map((text) => `N${text.replace(/[\s\p{C}"@,;]/gu, '')}`.normalize('NFC'))
    fc.assert(
      fc.property(fc.array(fc.tuple(name, name), { minLength: 1, maxLength: 20 }), (names) => {
        const text = [
          'Last name\tFirst name\tE-mail',
          ...names.map(([last, first], at) => `${last}\t${first}\ts${at}@fennickquay.example`),
        ].join('\n')
        expect(read(text).entries.map(({ last, first }) => [last, first])).toEqual(names)
      }),
    )
  })
})

describe('checking rows', () => {
  const member = { personId: 'p1', first: 'Chidi', last: 'Abara', email: 'chidi@fennickquay.example' }

  test.each([
    ['no e-mail', row('Abara', 'Chidi', ''), 'no-email', false],
    ['a malformed e-mail', row('Abara', 'Chidi', 'chidi@fennick'), 'malformed-email', true],
    ['no name', row('', '', 'x@fennickquay.example'), 'no-name', true],
    ['a name of 301 characters', row('x'.repeat(301), 'Chidi', 'x@fennickquay.example'), 'name-too-long', true],
  ])('%s is in doubt', (_, entry, code, stops) => {
    const { rows } = checkRoster([entry], [])
    expect(rows[0]!.doubts).toContainEqual(expect.objectContaining({ code, stops }))
  })

  test('a name of 300 characters, emoji and right-to-left names are welcome', () => {
    const rows = [row('x'.repeat(300), '🦭', 'a@fennickquay.example'), row('حداد', 'ليلى', 'b@fennickquay.example')]
    expect(checkRoster(rows, []).counts).toMatchObject({ new: 2, inDoubt: 0 })
  })

  test('the same e-mail twice stops both rows, however it is written', () => {
    const { rows, counts } = checkRoster(
      [row('A', 'B', 'X@fennickquay.example'), row('C', 'D', 'x@FENNICKQUAY.example')],
      [],
    )
    expect(counts.stopping).toBe(2)
    expect(rows[0]!.doubts[0]!.sentence).toContain('D C')
  })

  test('two people of the same name are asked about and may both be saved', () => {
    const { counts } = checkRoster(
      [row('Rossi', 'Giulia', 'a@fennickquay.example'), row('Rossi', 'giulia ', 'b@fennickquay.example')],
      [],
    )
    expect(counts).toMatchObject({ new: 2, inDoubt: 2, stopping: 0 })
  })

  test('a known e-mail is the same person, changed or not', () => {
    expect(checkRoster([row('Abara', 'Chidi', 'CHIDI@fennickquay.example')], [member]).rows[0]).toMatchObject({
      effect: 'unchanged',
      personId: 'p1',
    })
    expect(checkRoster([row('Abara-Cole', 'Chidi', member.email)], [member]).rows[0]).toMatchObject({
      effect: 'changed',
      personId: 'p1',
    })
  })

  describe('the same name with another e-mail', () => {
    const asked = (more: object = {}, members: readonly RosterMember[] = [member]) =>
      checkRoster([{ ...row('Abara', 'Chidi', 'new@fennickquay.example'), ...more }], members)

    test('is asked about, also where there was none', () => {
      for (const email of [member.email, null]) {
        const { rows, counts } = asked({}, [{ ...member, email }])
        expect(counts).toMatchObject({ asking: 1, new: 1, stopping: 0 })
        expect(rows[0]).toMatchObject({ namesake: { personId: 'p1' }, personId: null, effect: 'new' })
        expect(rows[0]!.doubts.map(({ code }) => code)).toEqual(['same-person'])
      }
    })

    test('is a new address where it is the same person', () => {
      const { rows, counts, missing } = asked({ sameAs: 'p1' })
      expect(counts).toMatchObject({ asking: 0, changed: 1, inDoubt: 0 })
      expect(rows[0]).toMatchObject({
        personId: 'p1',
        namesake: { personId: 'p1' },
        row: { email: 'new@fennickquay.example' },
        changes: [{ field: 'email', before: member.email, after: 'new@fennickquay.example' }],
      })
      expect(missing).toEqual([])
    })

    test('is a second person where it is somebody else', () => {
      const { rows, counts, missing } = asked({ sameAs: null })
      expect(counts).toMatchObject({ asking: 0, new: 1, inDoubt: 0 })
      expect(rows[0]).toMatchObject({ personId: null, namesake: { personId: 'p1' } })
      expect(missing.map(({ personId }) => personId)).toEqual(['p1'])
    })

    test('is not asked where another row of the list is that person, nor where a number or an address says who it is', () => {
      const two = checkRoster(
        [row('Abara', 'Chidi', 'new@fennickquay.example'), row('Abara', 'Chidi', member.email)],
        [member],
      )
      expect(two.counts).toMatchObject({ asking: 0, new: 1, unchanged: 1 })
      expect(asked({ number: 'K-1' }, [{ ...member, number: 'K-1' }]).counts).toMatchObject({ asking: 0, changed: 1 })
    })

    test('one person cannot be two rows', () => {
      const { rows, counts } = checkRoster(
        ['a', 'b'].map((name) => ({ ...row('Abara', 'Chidi', `${name}@fennickquay.example`), sameAs: 'p1' })),
        [member],
      )
      expect(counts.stopping).toBe(2)
      expect(rows[0]!.doubts).toContainEqual(expect.objectContaining({ code: 'double-person', stops: true }))
      expect(rows[0]!.doubts.map(({ sentence }) => sentence)).toContain('Row 2 is about the same person: Chidi Abara.')
    })

    test('an answer about somebody who is not in the class means nothing', () => {
      expect(asked({ sameAs: 'p9' }).rows[0]).toMatchObject({ personId: null, effect: 'new' })
    })

    test('a number or an address wins over what was said', () => {
      const other = { ...member, personId: 'p2', first: 'Uche', email: 'new@fennickquay.example' }
      expect(asked({ sameAs: 'p1' }, [member, other]).rows[0]!.personId).toBe('p2')
    })
  })

  describe('a newer list', () => {
    const members: RosterMember[] = [
      { ...member, number: 'K-104', cells: { 'Reading band': 'A' } },
      { personId: 'p2', first: 'Giulia', last: 'Rossi', email: 'giulia@fennickquay.example', number: null, cells: {} },
      { personId: 'p3', first: 'Finn', last: 'O’Hara', email: null, number: null, cells: {}, left: true },
    ]

    test('is compared cell by cell; who is missing is said and stays', () => {
      const { rows, missing, counts } = checkRoster(
        [
          {
            ...row('Abara-Cole', 'Chidi', 'chidi.new@fennickquay.example'),
            number: 'k-104',
            cells: { 'reading band': 'B' },
          },
        ],
        members,
      )
      expect(rows[0]).toMatchObject({ personId: 'p1', effect: 'changed' })
      expect(rows[0]!.changes).toEqual([
        { field: 'last', before: 'Abara', after: 'Abara-Cole' },
        { field: 'email', before: 'chidi@fennickquay.example', after: 'chidi.new@fennickquay.example' },
        { field: 'number', before: 'K-104', after: 'k-104' },
        { field: 'reading band', before: 'A', after: 'B' },
      ])
      expect(missing.map(({ personId }) => personId)).toEqual(['p2'])
      expect(counts).toMatchObject({ changed: 1, new: 0 })
    })

    test('an empty cell wipes nothing', () => {
      const { rows } = checkRoster(
        [{ ...row('Abara', 'Chidi', ''), number: 'K-104', cells: { 'Reading band': '' } }],
        members,
      )
      expect(rows[0]).toMatchObject({ effect: 'unchanged', row: { email: member.email } })
      expect(rows[0]!.doubts).toEqual([])
    })

    test('without numbers and e-mails people are known by name, and who left comes back', () => {
      const { rows } = checkRoster([row('rossi', 'Giulia', ''), row('O’Hara', 'Finn', '')], members)
      expect(rows.map(({ personId, effect }) => [personId, effect])).toEqual([
        ['p2', 'changed'],
        ['p3', 'back'],
      ])
    })

    test('a number of one and an e-mail of another stop the row; another name under a known e-mail is asked about', () => {
      const codes = (entry: Parameters<typeof checkRoster>[0][number]) =>
        checkRoster([entry], members).rows[0]!.doubts.map(({ code }) => code)
      expect(codes({ ...row('Rossi', 'Giulia', 'giulia@fennickquay.example'), number: 'K-104' })).toContain(
        'two-people',
      )
      expect(codes(row('Sandvik', 'Birgit', 'giulia@fennickquay.example'))).toContain('other-name')
      expect(codes(row('Rossi-Berg', 'Giulia', 'giulia@fennickquay.example'))).not.toContain('other-name')
    })

    test('two rows of one student number stop', () => {
      const { counts } = checkRoster(
        [
          { ...row('A', 'B', 'a@fennickquay.example'), number: '7' },
          { ...row('C', 'D', 'c@fennickquay.example'), number: '7' },
        ],
        [],
      )
      expect(counts.stopping).toBe(2)
    })
  })

  test('saving what was saved changes nothing', () => {
    const entry = fc.record({
      first: fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }).map((text) => `a${text}`),
      last: fc.string({ unit: 'grapheme', maxLength: 12 }),
    })
    fc.assert(
      fc.property(fc.array(entry, { maxLength: 15 }), (entries) => {
        const rows = entries.map((name, at) => ({ ...name, email: `s${at}@fennickquay.example` }))
        const first = checkRoster(rows, [])
        const members = first.rows.map(({ row: saved }, at) => ({ ...saved, personId: `p${at}` }))
        expect(checkRoster(rows, members).counts).toMatchObject({ new: 0, changed: 0, unchanged: rows.length })
      }),
    )
  })
})

describe('names and addresses', () => {
  test('one-word names have no stray comma or space', () => {
    expect(listName({ first: 'Suryani', last: '' })).toBe('Suryani')
    expect(fullName({ first: '', last: '陳' })).toBe('陳')
  })

  test('names are sorted by the rules of the locale', () => {
    const names = ['Zorn', 'Ärlig', 'Åberg', 'Öberg', 'Abel'].map((last) => ({ first: '', last }))
    expect(names.toSorted(nameOrder('sv')).map(({ last }) => last)).toEqual(['Abel', 'Zorn', 'Åberg', 'Ärlig', 'Öberg'])
    expect(names.toSorted(nameOrder('de')).map(({ last }) => last)).toEqual(['Abel', 'Åberg', 'Ärlig', 'Öberg', 'Zorn'])
  })

  test.each(['a@b.example', 'zoë.o’hara'.replace('’', "'") + '@fennickquay.example', 'x+y@sub.fennickquay.example'])(
    '%s is an address',
    (text) => {
      expect(isEmail(text)).toBe(true)
    },
  )
  test.each([
    '',
    'a',
    '@b.example',
    'a@b',
    'a b@c.example',
    'a@@b.example',
    'a@b..example',
    'a@-b.example',
    `${'x'.repeat(250)}@b.example`,
  ])('"%s" is no address', (text) => {
    expect(isEmail(text)).toBe(false)
  })
  test('case and white space around an address do not make two people', () => {
    expect(emailKey(' Chidi@Fennickquay.Example ')).toBe(emailKey('chidi@fennickquay.example'))
  })
})

describe('columns and tags', () => {
  test('a column needs a name of its own', () => {
    expect(checkColumnName(' Reading  band ', [])).toEqual({ ok: true, value: 'Reading band' })
    for (const name of ['', 'e-MAIL', 'Tutor', 'x'.repeat(61)]) expect(checkColumnName(name, ['tutor']).ok).toBe(false)
  })

  test('a tag is put on once and taken off again, in any spelling', () => {
    expect(withTag('choir', 'Boat club')).toBe('choir, Boat club')
    expect(withTag('choir, Boat club', 'boat CLUB')).toBe('choir, Boat club')
    expect(withoutTag('choir, Boat club', ' boat club')).toBe('choir')
    expect(tagsOf(' , a,,A ,b')).toEqual(['a', 'b'])
  })
})

describe('finding a person', () => {
  test.each([
    ['Zofia Dąbrowska', 'dabrow'],
    ['Théo Joubert', 'theo joub'],
    ['Finn O’Hara', 'ohara'],
    ['Aksel Sørensen', 'soren'],
    ['Elif Şahin', 'sahin elif'],
    ['Thandi Mbeki-Jones', 'jones'],
    ['Thandi Mbeki-Jones', 'mbekijones'],
    ['ليلى حداد', 'حداد'],
    ['Даниил Petrov', 'дани'],
    ['陳 Yu-Ting', '陳'],
  ])('%s is found by "%s"', (name, typed) => {
    expect(isFound(name, typed)).toBe(true)
  })

  test('what begins with the words typed comes first; nothing typed finds nobody', () => {
    const names = ['Susanna', 'Anna', 'Hanna', 'Anna-Lena']
    expect(findAll(names, (name) => name, 'ann', 3)).toEqual(['Anna', 'Anna-Lena', 'Susanna'])
    expect(findAll(names, (name) => name, '  ', 3)).toEqual([])
  })

  test('any part of a name finds it', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }),
        fc.nat(),
        fc.nat(),
        (name, from, to) => {
          expect(isFound(name, name)).toBe(true)
          const letters = [...name]
          const part = letters.slice(from % letters.length, (to % letters.length) + 1).join('')
          if (/^[\p{L}]*$/u.test(part) && /^[a-z]*$/i.test(name)) expect(isFound(name, part)).toBe(true)
        },
      ),
    )
  })
})

describe('people who may be one', () => {
  const known = [
    { first: 'Zofia', last: 'Dąbrowska', email: 'zofia@fennickquay.example' },
    { first: 'Finn', last: 'O’Hara', email: null },
    { first: 'Giulia', last: 'Rossi', email: 'giulia@fennickquay.example' },
  ]
  test.each([
    ['the e-mail in capitals', 'Zosia', 'D', 'ZOFIA@fennickquay.example', 'the same e-mail', 'Zofia'],
    ['no accents, other way round', 'Dabrowska', 'Zofia', 'z@fennickquay.example', 'the same name', 'Zofia'],
    ['another apostrophe', 'finn', "o'hara", null, 'the same name', 'Finn'],
    ['a slip of the pen', 'Guilia', 'Rossi', null, 'nearly the same name', 'Giulia'],
  ])('%s', (_, first, last, email, reason, name) => {
    expect(personTwins({ first, last, email }, known)[0]).toMatchObject({ reason, person: { first: name } })
  })
  test('two people who share a last name are two', () => {
    expect(personTwins({ first: 'Marco', last: 'Rossi', email: null }, known)).toEqual([])
  })
})
