import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { COPY_STATES } from '../progress/journal.js'
import { WAYS } from '../handout/statement.js'
import {
  type CopyAct,
  type CopyFacts,
  accessInWords,
  copyAccess,
  couldWriteIn,
  hidesPlaces,
  maySeeAt,
  maySeeDocumentOf,
  mayWithCopy,
  mayWriteAt,
  maySeeKey,
  seesLateWritingOf,
} from './copy.js'
import { PERMISSIONS, atMost, includes } from './permission.js'
import { mayBegin, maySeePenMark } from './comment.js'
import { type ClassAction, mayInClass, mayRunOffice, mayTeach, mayWithWorksheet } from './school.js'
import { type ClassRole, type SchoolRole, type Viewer, isOfStaff } from './viewer.js'

const DUE = 1_000
const viewer = (personId: string, schoolId = 's1', role: SchoolRole = 'student'): Viewer => ({
  personId,
  schoolId,
  role,
})
const COPY: CopyFacts = {
  schoolId: 's1',
  way: 'one each',
  isKept: false,
  holders: new Map([['holder', 'edit']]),
  readers: new Map(),
  othersPlaces: 'read',
  invited: new Map(),
  ownCopies: false,
  checks: 'no',
  classmatesComment: true,
  staffShown: true,
  viewersReadComments: true,
  readersNamed: true,
  mayInvite: false,
  classmatesMay: 'none',
  places: [],
  reserved: new Map(),
  state: 'working',
  pensDown: false,
  pensDownFrom: null,
  setAside: false,
  opensAt: null,
  dueAt: DUE,
  pensDownAtDue: false,
  lateWork: true,
  guestsUntil: Infinity,
  guestIs: new Map(),
  namedHelpers: new Set(['n']),
  timeZone: 'UTC',
  locale: 'en-GB',
}
const ROLES: readonly ClassRole[] = ['lead', 'co-teacher', 'helper', 'named helper', 'student', 'left', 'none']
const may = (who: Viewer, role: ClassRole, facts: Partial<CopyFacts>, act: CopyAct, now = 0) =>
  mayWithCopy(who, role, { ...COPY, ...facts }, act, now).may

describe('what was written in a copy', () => {
  const open: Partial<CopyFacts> = { classmatesMay: 'edit', readers: new Map([['reader', 'comment']]) }
  const who: readonly (readonly [string, ClassRole])[] = [
    ['t', 'lead'],
    ['t', 'co-teacher'],
    ['h', 'helper'],
    ['n', 'named helper'],
    ['holder', 'student'],
    ['reader', 'student'],
    ['mate', 'student'],
    ['t', 'none'],
  ]
  const those = (act: CopyAct) =>
    who.filter(([id, role]) => may(viewer(id), role, open, act)).map(([id, role]) => `${id} ${role}`)

  test('its history is for its holders and the staff: not for readers, nor for classmates who may write in it', () => {
    expect(those('see its history')).toEqual(['t lead', 't co-teacher', 'h helper', 'n named helper', 'holder student'])
    expect(may(viewer('holder'), 'left', {}, 'see its history')).toBe(true)
    expect(may(viewer('other'), 'named helper', { namedHelpers: new Set() }, 'see its history')).toBe(false)
  })

  test('answers are brought back, and late writing decided on, by the teachers of the class alone', () => {
    for (const act of ['bring answers back', 'decide on late writing'] as const)
      expect(those(act)).toEqual(['t lead', 't co-teacher'])
  })

  test('what came late is shown to its holders, the staff and who wrote it', () => {
    const shown = ([id, role]: readonly [string, ClassRole]) =>
      seesLateWritingOf(viewer(id), role, COPY, { personId: 'reader', space: 'q' }, 0)
    expect(who.filter(shown).map(([id, role]) => `${id} ${role}`)).toEqual([
      't lead',
      't co-teacher',
      'h helper',
      'n named helper',
      'holder student',
      'reader student',
    ])
  })
})

describe('a copy', () => {
  test.each<[string, Viewer, ClassRole, Partial<CopyFacts>, string]>([
    ['its holder', viewer('holder'), 'student', {}, 'edit'],
    ['its holder, given to view', viewer('holder'), 'student', { holders: new Map([['holder', 'view']]) }, 'view'],
    ['its holder, once submitted', viewer('holder'), 'student', { state: 'submitted' }, 'comment'],
    ['its holder, pens down', viewer('holder'), 'student', { pensDown: true }, 'comment'],
    ['its holder, pens down from a moment that has come', viewer('holder'), 'student', { pensDownFrom: 0 }, 'comment'],
    ['its holder, pens down from a moment to come', viewer('holder'), 'student', { pensDownFrom: DUE }, 'edit'],
    ['its holder, set aside', viewer('holder'), 'student', { setAside: true }, 'view'],
    ['its holder, who left the class', viewer('holder'), 'left', {}, 'view'],
    ['a classmate', viewer('mate'), 'student', {}, 'none'],
    ['a classmate, where they may view', viewer('mate'), 'student', { classmatesMay: 'view' }, 'view'],
    [
      'a classmate, where they may view, once set aside',
      viewer('mate'),
      'student',
      { classmatesMay: 'view', setAside: true },
      'none',
    ],
    ['somebody who left, where classmates may edit', viewer('mate'), 'left', { classmatesMay: 'edit' }, 'none'],
    ['its holder, before it opens', viewer('holder'), 'student', { opensAt: 1 }, 'none'],
    ['the lead, before it opens', viewer('t', 's1', 'teacher'), 'lead', { opensAt: 1 }, 'comment'],
    [
      'its holder, pens down at the due time',
      viewer('holder'),
      'student',
      { pensDownAtDue: true, dueAt: 0 },
      'comment',
    ],
    ['its holder, pens down at a due time to come', viewer('holder'), 'student', { pensDownAtDue: true }, 'edit'],
    ['its holder, to read', viewer('holder'), 'student', { way: 'to read' }, 'comment'],
    ['a peer reader', viewer('mate'), 'student', { readers: new Map([['mate', 'comment']]) }, 'comment'],
    [
      'a peer reader, set aside',
      viewer('mate'),
      'student',
      { readers: new Map([['mate', 'view']]), setAside: true },
      'none',
    ],
    ['a peer reader who left', viewer('mate'), 'left', { readers: new Map([['mate', 'comment']]) }, 'none'],
    [
      'somebody a holder let in',
      viewer('mate'),
      'student',
      { invited: new Map([['mate', 'edit']]), mayInvite: true },
      'edit',
    ],
    [
      'somebody a holder let in, when that was taken back',
      viewer('mate'),
      'student',
      { invited: new Map([['mate', 'edit']]) },
      'none',
    ],
    ['a guest, in their own', viewer('holder', 's1', 'guest'), 'none', {}, 'edit'],
    ['a guest, when the link is shut', viewer('holder', 's1', 'guest'), 'none', { guestsUntil: 0 }, 'none'],
    ['a guest, in another’s', viewer('mate', 's1', 'guest'), 'none', { classmatesMay: 'edit' }, 'none'],
    ['the lead', viewer('t', 's1', 'teacher'), 'lead', {}, 'comment'],
    ['a helper', viewer('t', 's1', 'teacher'), 'helper', {}, 'comment'],
    ['a helper of its holder by name', viewer('n', 's1', 'teacher'), 'named helper', {}, 'comment'],
    ['a helper of others by name', viewer('m', 's1', 'teacher'), 'named helper', { classmatesMay: 'edit' }, 'none'],
    ['a teacher of another class', viewer('t', 's1', 'teacher'), 'none', { classmatesMay: 'edit' }, 'none'],
    ['the office', viewer('o', 's1', 'office'), 'none', { classmatesMay: 'edit' }, 'none'],
    ['the holder’s id in another school', viewer('holder', 's2'), 'student', {}, 'none'],
    ['the lead’s role in another school', viewer('t', 's2', 'teacher'), 'lead', {}, 'none'],
  ])('%s may %#: %s', (_, who, role, facts, permission) => {
    const access = copyAccess(who, role, { ...COPY, ...facts }, 0)
    expect(access.permission).toBe(permission)
    if (permission !== 'edit') expect(access.reason).toMatch(/\.$/)
  })

  test('only its holder writes, submits and takes back, each when it can be', () => {
    const holder = viewer('holder')
    expect(may(holder, 'student', {}, 'write')).toBe(true)
    expect(may(holder, 'student', {}, 'submit')).toBe(true)
    expect(may(holder, 'student', { state: 'submitted' }, 'submit')).toBe(false)
    expect(may(holder, 'student', { state: 'submitted' }, 'take back', DUE - 1)).toBe(true)
    expect(may(holder, 'student', { state: 'submitted' }, 'take back', DUE)).toBe(false)
    expect(may(holder, 'student', { state: 'submitted', dueAt: null }, 'take back', DUE)).toBe(true)
    expect(may(holder, 'student', { state: 'submitted', pensDown: true }, 'take back')).toBe(false)
    for (const role of ['lead', 'co-teacher', 'helper'] as const)
      for (const act of ['write', 'submit', 'take back'] as const)
        expect(may(viewer('t', 's1', 'teacher'), role, { state: 'submitted' }, act)).toBe(false)
  })

  test('the reason says since when pens are down', () => {
    const at = Date.UTC(2026, 11, 3, 14, 5)
    const reason = (now: number) =>
      copyAccess(viewer('holder'), 'student', { ...COPY, pensDownAtDue: true, dueAt: at }, now).reason
    expect(reason(at + 60_000)).toBe('Pens are down since 14:05.')
    expect(reason(at + 86_400_000)).toBe('Pens are down since 3 Dec, 14:05.')
  })

  test.each<[string, Partial<CopyFacts>, number, string]>([
    ['nothing held back', {}, 100, ''],
    ['submitted', { state: 'submitted' }, 100, 'This copy is submitted and stands still. Take it back to write again.'],
    [
      'submitted, and due',
      { state: 'submitted' },
      DUE,
      'This copy is submitted and stands still. Only your teacher can open it again.',
    ],
    [
      'handed back',
      { state: 'handed back' },
      100,
      'This copy was marked and handed back. Only your teacher can open it again.',
    ],
    [
      'set aside',
      { setAside: true },
      100,
      'This copy was set aside by your teacher: it can be read. Your teacher can bring it back.',
    ],
    [
      'to read',
      { way: 'to read', ownCopies: true },
      100,
      'This is the original, to read: nobody writes in it. You can make a copy of your own to write in.',
    ],
    [
      'to comment',
      { holders: new Map([['holder', 'comment']]) },
      100,
      'This copy was given to read and comment. Your teacher says who writes in it.',
    ],
  ])('%s: one line says what one may do and what would change it', (_, facts, now, words) => {
    expect(accessInWords(viewer('holder'), 'student', { ...COPY, ...facts }, now)).toBe(words)
  })

  test('after the due time: late work as the slip says, and what pens down keeps still can be handed in', () => {
    const holder = viewer('holder')
    expect(may(holder, 'student', {}, 'submit', DUE)).toBe(true)
    expect(may(holder, 'student', { lateWork: false }, 'submit', DUE)).toBe(false)
    expect(may(holder, 'student', { lateWork: false }, 'submit', DUE - 1)).toBe(true)
    expect(may(holder, 'student', { pensDownAtDue: true }, 'submit', DUE)).toBe(true)
    expect(may(holder, 'student', { pensDownAtDue: true }, 'write', DUE)).toBe(false)
    expect(may(holder, 'student', { pensDown: true }, 'submit', DUE)).toBe(false)
    expect(may(holder, 'student', { pensDownFrom: DUE }, 'submit', DUE)).toBe(false)
    expect(may(holder, 'student', { state: 'submitted', pensDownFrom: DUE - 1 }, 'take back', DUE - 1)).toBe(false)
  })

  test('holders let others in only where the slip says so', () => {
    expect(may(viewer('holder'), 'student', {}, 'invite')).toBe(false)
    expect(may(viewer('holder'), 'student', { mayInvite: true }, 'invite')).toBe(true)
    expect(may(viewer('mate'), 'student', { mayInvite: true, classmatesMay: 'edit' }, 'invite')).toBe(false)
  })

  test('in a part of a repeated section only whose part it is writes', () => {
    const [ana, ben, crew] = ['0', '1', '2'].map((digit) => `${digit.repeat(8)}-1111-4111-8111-111111111111`) as [
      string,
      string,
      string,
    ]
    const facts = { ...COPY, places: [{ id: crew, personIds: [ana] }] }
    const at = (person: string, part: string | null) =>
      mayWriteAt(viewer(person), facts, part === null ? 'tide' : `tide_${part.replaceAll('-', '')}`).may
    expect([at(ana, null), at(ana, ana), at(ana, crew), at(ben, ben)]).toEqual([true, true, true, true])
    expect([at(ana, ben), at(ben, ana), at(ben, crew)]).toEqual([false, false, false])
  })

  test.each<[string, ClassRole, Partial<CopyFacts>, (string | null)[], boolean]>([
    ['its holder, whatever its state', 'student', { state: 'submitted', pensDown: true, setAside: true }, [], true],
    ['its holder, who left', 'left', {}, [], true],
    ['its holder, given to read', 'student', { holders: new Map([['me', 'view']]) }, [], false],
    ['who held it before', 'student', { holders: new Map() }, ['me'], true],
    ['who was let in to write', 'student', { holders: new Map(), invited: new Map([['me', 'edit']]) }, [], true],
    ['a peer reader', 'student', { holders: new Map(), readers: new Map([['me', 'comment']]) }, [], false],
    ['a classmate, where they write', 'student', { holders: new Map(), classmatesMay: 'edit' }, [], true],
    ['a classmate, where they wrote', 'student', { holders: new Map() }, [null], true],
    ['somebody who left, where classmates wrote', 'left', { holders: new Map() }, [null], true],
    ['a teacher of the class, where classmates wrote', 'lead', { holders: new Map() }, [null], false],
    ['a stranger, where classmates write', 'none', { holders: new Map(), classmatesMay: 'edit' }, [null], false],
    ['a classmate', 'student', { holders: new Map() }, ['somebody'], false],
    ['somebody of that id in another school', 'student', { schoolId: 's2' }, ['me', null], false],
  ])('late words are heard of those who could write: %s', (_who, role, facts, former, heard) => {
    const copy = { ...COPY, holders: new Map([['me', 'edit' as const]]), ...facts }
    expect(couldWriteIn(viewer('me'), role, copy, new Set(former))).toBe(heard)
  })

  test('in a section reserved for named people only they write', () => {
    const facts = { ...COPY, reserved: new Map([['extra', ['ana', 'bo']]]) }
    const at = (person: string, address: string) => mayWriteAt(viewer(person), facts, address).may
    expect([at('ana', 'extra'), at('bo', 'extra'), at('cy', 'extra'), at('cy', 'tide')]).toEqual([
      true,
      true,
      false,
      true,
    ])
  })

  test('a classmate never gets more than the slip says, and nobody writes in what stands still', () => {
    const people = fc
      .dictionary(fc.constantFrom('a', 'b', 'c'), fc.constantFrom(...PERMISSIONS))
      .map((found) => new Map(Object.entries(found)))
    const facts = fc.record({
      schoolId: fc.constant('s1'),
      way: fc.constantFrom(...WAYS),
      isKept: fc.constant(false),
      holders: people,
      readers: people,
      invited: people,
      mayInvite: fc.boolean(),
      places: fc.constant([]),
      reserved: fc.constant(new Map()),
      opensAt: fc.constantFrom(null, DUE),
      pensDownAtDue: fc.boolean(),
      pensDownFrom: fc.constantFrom(null, 500),
      lateWork: fc.boolean(),
      classmatesComment: fc.boolean(),
      staffShown: fc.boolean(),
      viewersReadComments: fc.boolean(),
      readersNamed: fc.boolean(),
      ownCopies: fc.boolean(),
      checks: fc.constantFrom('no', 'when submitted', 'while writing'),
      othersPlaces: fc.constantFrom('read' as const, 'hidden until due' as const, 'hidden' as const),
      guestIs: fc.constant(new Map<string, string>()),
      guestsUntil: fc.constantFrom(0, 500, Infinity),
      timeZone: fc.constant('Asia/Tokyo'),
      locale: fc.constantFrom('nb-NO', 'en-US', 'pl'),
      classmatesMay: fc.constantFrom(...PERMISSIONS),
      state: fc.constantFrom(...COPY_STATES),
      pensDown: fc.boolean(),
      setAside: fc.boolean(),
      dueAt: fc.constantFrom(null, DUE),
      namedHelpers: fc.constantFrom(new Set<string>(), new Set(['a', 'd'])),
    })
    fc.assert(
      fc.property(
        facts,
        fc.constantFrom('a', 'b', 'c', 'd'),
        fc.constantFrom(...ROLES),
        fc.constantFrom('s1', 's2'),
        fc.nat(2_000),
        (copy, person, role, school, now) => {
          const who = viewer(person, school)
          const { permission } = copyAccess(who, role, copy, now)
          if (school === 's2') expect(permission).toBe('none')
          if (role === 'student' && !copy.holders.has(person))
            expect(
              [copy.classmatesMay, copy.readers.get(person), copy.mayInvite ? copy.invited.get(person) : 'none'].some(
                (given) => given !== undefined && includes(given, permission),
              ),
            ).toBe(true)
          // Whoever writes now is heard when their words come late, whatever is decided meanwhile.
          if (permission === 'edit') expect(couldWriteIn(who, role, copy, new Set())).toBe(true)
          // What somebody writes they see; what is for everybody all see; the staff see all.
          for (const address of [`q_${'a'.repeat(32)}`, 'q']) {
            const sees = maySeeAt(who, role, copy, address, now)
            if (mayWriteAt(who, copy, address).may || address === 'q' || isOfStaff(role)) expect(sees).toBe(true)
            if (!hidesPlaces(copy, now)) expect(sees).toBe(true)
            else if (copy.holders.has(person) && !isOfStaff(role)) expect(sees).toBe(mayWriteAt(who, copy, address).may)
          }
          // A document is as hidden as the place of whose it is.
          expect(maySeeDocumentOf(who, role, copy, person, now)).toBe(true)
          const isLetIn = !copy.holders.has(person) && (copy.readers.has(person) || copy.invited.has(person))
          expect(maySeeDocumentOf(who, role, copy, 'somebody', now)).toBe(
            !hidesPlaces(copy, now) || isOfStaff(role) || isLetIn,
          )
          if (role === 'none' && !copy.holders.has(person)) expect(permission).toBe('none')
          if (
            ['submitted', 'handed back'].includes(copy.state) ||
            copy.pensDown ||
            copy.setAside ||
            copy.way === 'to read' ||
            (copy.pensDownAtDue && copy.dueAt !== null && now >= copy.dueAt) ||
            (copy.opensAt !== null && now < copy.opensAt) ||
            role !== 'student'
          )
            expect(permission).not.toBe('edit')
          for (const act of ['write', 'submit', 'take back'] as const)
            if (permission === 'none') expect(mayWithCopy(who, role, copy, act, now).may).toBe(false)
          if (mayWithCopy(who, role, copy, 'write', now).may) expect(permission).toBe('edit')
        },
      ),
      { numRuns: 1_000 },
    )
  })
})

test('a copy to keep is its holder’s alone, whatever becomes of the class: they write, and nothing else is done with it', () => {
  const kept: CopyFacts = {
    ...COPY,
    isKept: true,
    readers: new Map([['reader', 'comment']]),
    classmatesMay: 'edit',
    state: 'submitted',
    pensDown: true,
    dueAt: 0,
    pensDownAtDue: true,
  }
  for (const role of ROLES) {
    for (const other of ['t', 'reader', 'n', 'mate'])
      expect(copyAccess(viewer(other), role, kept, 5).permission).toBe('none')
    expect(copyAccess(viewer('holder', 's2'), role, kept, 5).permission).toBe('none')
    const holder = viewer('holder')
    for (const act of ['see', 'write', 'see its history'] as const)
      expect(mayWithCopy(holder, role, kept, act, 5).may).toBe(true)
    for (const act of ['submit', 'take back', 'invite', 'see checks', 'see what was handed back'] as const)
      expect(mayWithCopy(holder, role, kept, act, 5).may).toBe(false)
    for (const kind of ['comment', 'question', 'remark'] as const)
      expect(mayBegin({ viewer: holder, role, copy: kept, now: 5 }, kind).may).toBe(false)
    expect(accessInWords(holder, role, kept, 5)).toBe('')
  }
})

test('a mark of the pen is the staff’s until it is handed back, then its holders’, over what they see', () => {
  const hidden: CopyFacts = { ...COPY, othersPlaces: 'hidden', readers: new Map([['reader', 'comment']]) }
  const sees = (person: string, role: ClassRole, releasedAt: number | null, id = 'q') =>
    maySeePenMark({ viewer: viewer(person), role, copy: hidden, now: 0 }, { over: { id }, releasedAt })
  expect([sees('t', 'lead', null), sees('h', 'helper', null)]).toEqual([true, true])
  expect([sees('holder', 'student', null), sees('holder', 'student', 5)]).toEqual([false, true])
  expect(sees('holder', 'student', 5, `q_${'a'.repeat(32)}`)).toBe(false)
  for (const other of ['reader', 'mate']) expect(sees(other, 'student', 5)).toBe(false)
})

test('permissions are in order', () => {
  for (const one of PERMISSIONS)
    for (const other of PERMISSIONS) {
      expect(includes(one, atMost(one, other))).toBe(true)
      expect(includes(other, atMost(one, other))).toBe(true)
    }
  expect(includes('view', 'comment')).toBe(false)
})

test('a class: teachers do all, helpers look, students see only that it is there, strangers nothing', () => {
  const table: Record<ClassAction, readonly ClassRole[]> = {
    'hand back': ['lead', 'co-teacher'],
    'give to keep': ['lead', 'co-teacher'],
    'see the class': ['lead', 'co-teacher', 'helper', 'named helper', 'student'],
    'see the roster': ['lead', 'co-teacher', 'helper', 'named helper'],
    'see groups': ['lead', 'co-teacher', 'helper', 'named helper'],
    'see handouts': ['lead', 'co-teacher', 'helper', 'named helper'],
    'see the proof': ['lead', 'co-teacher', 'helper'],
    'compare copies': ['lead', 'co-teacher'],
    mark: ['lead', 'co-teacher'],
    'see marks': ['lead', 'co-teacher', 'helper', 'named helper'],
    'change the roster': ['lead', 'co-teacher'],
    'change groups': ['lead', 'co-teacher'],
    'hand out': ['lead', 'co-teacher'],
    'set up the class': ['lead', 'co-teacher'],
    'change staff': ['lead', 'co-teacher'],
    'archive the class': ['lead'],
    'hand over the class': ['lead'],
    'carry the class': ['lead', 'co-teacher'],
    'sign up': ['student'],
  }
  for (const [action, allowed] of Object.entries(table) as [ClassAction, readonly ClassRole[]][])
    for (const role of ROLES)
      expect([action, role, mayInClass(role, action).may]).toEqual([action, role, allowed.includes(role)])
})

test('an archived class is looked at by its staff, brought back by its lead, and changed by nobody', () => {
  for (const action of ['see the roster', 'see handouts', 'archive the class', 'give to keep'] as const)
    expect(mayInClass('lead', action, true).may).toBe(true)
  for (const action of ['change the roster', 'hand out', 'change staff'] as const)
    expect(mayInClass('lead', action, true)).toMatchObject({ may: false, code: 'archived' })
  expect(mayInClass('student', 'sign up', true).may).toBe(false)
})

test('helpers give marks where the class says so, and hand nothing back', () => {
  for (const role of ['helper', 'named helper'] as const) {
    expect(mayInClass(role, 'mark').may).toBe(false)
    expect(mayInClass(role, 'mark', false, true).may).toBe(true)
    expect(mayInClass(role, 'hand back', false, true).may).toBe(false)
    expect(mayInClass(role, 'mark', true, true)).toMatchObject({ may: false, code: 'archived' })
  }
  for (const role of ['student', 'left', 'none'] as const) expect(mayInClass(role, 'mark', false, true).may).toBe(false)
})

test('the office is run by its people alone', () => {
  expect(mayRunOffice(viewer('o', 's1', 'office')).may).toBe(true)
  expect(mayRunOffice(viewer('t', 's1', 'teacher'))).toMatchObject({ may: false, code: 'not-there' })
})

test('a worksheet is its owner’s; strangers are told the same as when it does not exist', () => {
  const worksheet = { schoolId: 's1', ownerId: 't', schoolMay: 'none', viewerMay: null } as const
  expect(mayWithWorksheet(viewer('t', 's1', 'teacher'), worksheet, 'change').may).toBe(true)
  for (const who of [viewer('u', 's1', 'teacher'), viewer('t', 's2', 'teacher'), viewer('t', 's1', 'student')])
    expect(mayWithWorksheet(who, worksheet, 'see')).toMatchObject({ may: false, code: 'not-there' })
  expect(mayTeach(viewer('x')).may).toBe(false)
})

test('a shared worksheet may be given out by all who see it, changed by those who may edit, and looked after by its owner', () => {
  const colleague = viewer('u', 's1', 'teacher')
  const shared = (schoolMay: 'none' | 'view' | 'edit', viewerMay: 'view' | 'edit' | null) => {
    const worksheet = { schoolId: 's1', ownerId: 't', schoolMay, viewerMay }
    return (['see', 'give out', 'change', 'look after'] as const).map(
      (action) => mayWithWorksheet(colleague, worksheet, action).may,
    )
  }
  expect(shared('view', null)).toEqual([true, true, false, false])
  expect(shared('none', 'view')).toEqual([true, true, false, false])
  expect(shared('view', 'edit')).toEqual([true, true, true, false])
  expect(shared('edit', 'view')).toEqual([true, true, true, false])
  expect(
    mayWithWorksheet(
      viewer('s', 's1', 'student'),
      { schoolId: 's1', ownerId: 't', schoolMay: 'edit', viewerMay: null },
      'see',
    ).may,
  ).toBe(false)
})

test('the answer key goes to the teachers of the class alone', () => {
  const roles = ['lead', 'co-teacher', 'helper', 'named helper', 'student', 'left', 'none'] as const
  expect(roles.filter(maySeeKey)).toEqual(['lead', 'co-teacher'])
})
