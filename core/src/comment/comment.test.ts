import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as Y from 'yjs'
import { runs } from '../../../scripts/lib/runs.mjs'
import type { CopyFacts } from '../access/copy.js'
import type { Permission } from '../access/permission.js'
import type { ClassRole, SchoolRole } from '../access/viewer.js'
import { newAnswerDoc, openRoot } from '../live/space.js'
import type { AnswerKind } from '../worksheet/content.js'
import { AROUND_LIMIT, type Anchor, WORDS_LIMIT, findWords, readAnchor, wordsAt } from './anchor.js'
import { COMMENT_LIMIT, type KeptComment, type KeptThread, commentText, isWaiting } from './kept.js'
import { aboutWhat, askedTogether } from './asked.js'
import { mentionBegun, mentionable, mentionsIn } from './mention.js'
import { BRING_BACK, type Reader, mayBeNamed, mayBegin, mayWithComment, mayWithThread } from '../access/comment.js'
import { threadSeen } from './thread.js'
import { lettersOf as readLetters } from '../live/letters.js'
import { anchorAtWords, wordsNow } from './words.js'

const lettersOf = (kind: AnswerKind, doc: Y.Doc) => readLetters(kind, doc).text
const SPACE = { space: 'q1', kind: 'line' } as const
const line = (text: string) => {
  const doc = newAnswerDoc('line')
  doc.getText('line').insert(0, text)
  return { doc, text: doc.getText('line') }
}
const anchored = (doc: Y.Doc, words: string) => {
  const from = lettersOf('line', doc).indexOf(words)
  return anchorAtWords(SPACE, doc, { from, to: from + words.length })!
}
const standsAt = (doc: Y.Doc, anchor: NonNullable<ReturnType<typeof anchorAtWords>>) => {
  const now = wordsNow(anchor, readLetters('line', doc))
  return now && lettersOf('line', doc).slice(now.from, now.to)
}

describe('words that a comment is on', () => {
  test('are followed while what stands around them is edited', () => {
    const { doc, text } = line('The harbour master waited.')
    const anchor = anchored(doc, 'harbour master')
    expect(anchor).toMatchObject({ words: 'harbour master', before: 'The ', after: ' waited.' })
    text.insert(0, 'On Tuesday. ')
    text.insert(text.length, ' Then he called.')
    expect(standsAt(doc, anchor)).toBe('harbour master')
  })

  test('grow by what is written in them, not by what is written beside them', () => {
    const { doc, text } = line('The harbour master waited.')
    const anchor = anchored(doc, 'harbour master')
    text.insert(12, 'tall ')
    text.insert(4, 'old ')
    text.insert(text.toJSON().indexOf(' waited'), 's')
    expect(standsAt(doc, anchor)).toBe('harbour tall master')
  })

  test('are found by what is left of them, and are gone with the last of it', () => {
    const { doc, text } = line('The harbour master waited.')
    const anchor = anchored(doc, 'harbour master')
    text.delete(4, 8)
    expect(standsAt(doc, anchor)).toBe('master')
    text.delete(4, 6)
    expect(standsAt(doc, anchor)).toBeNull()
  })

  test('are gone where others are written in their place', () => {
    const { doc, text } = line('The harbour master waited.')
    const anchor = anchored(doc, 'harbour master')
    text.delete(4, 14)
    text.insert(4, 'pilot')
    expect(standsAt(doc, anchor)).toBeNull()
  })

  test('that were taken out and put in again are found by the words', () => {
    const { doc, text } = line('A seal. The harbour master waited. The harbour master left.')
    const anchor = anchored(doc, 'harbour master')
    text.delete(0, text.length)
    text.insert(0, 'The harbour master left. So: The harbour master waited.')
    const now = wordsNow(anchor, readLetters('line', doc))!
    // The place that has most of what stood around them.
    expect(now.from).toBe(text.toJSON().lastIndexOf('harbour'))
  })

  test('run through paragraphs and lists of a passage', () => {
    const doc = newAnswerDoc('passage')
    const root = openRoot(doc, 'passage') as Y.XmlFragment
    const paragraph = (text: string) => {
      const element = new Y.XmlElement('paragraph')
      element.insert(0, [new Y.XmlText(text)])
      return element
    }
    root.insert(0, [paragraph('First the tide'), paragraph('then the boat')])
    expect(lettersOf('passage', doc)).toBe('First the tidethen the boat')
    const anchor = anchorAtWords({ space: 'p', kind: 'passage' }, doc, { from: 10, to: 18 })!
    expect(anchor.words).toBe('tidethen')
    root.insert(0, [paragraph('Before')])
    expect(wordsNow(anchor, readLetters('passage', doc))).toEqual({ from: 16, to: 24 })
  })

  test('are none in a choice, and none where there are too many or only spaces', () => {
    expect(anchorAtWords({ space: 'c', kind: 'choice' }, newAnswerDoc('choice'), { from: 0, to: 1 })).toBeNull()
    const { doc } = line(`   ${'a'.repeat(WORDS_LIMIT + 1)}`)
    expect(anchorAtWords(SPACE, doc, { from: 0, to: 3 })).toBeNull()
    expect(anchorAtWords(SPACE, doc, { from: 3, to: 4 + WORDS_LIMIT })).toBeNull()
    expect(anchorAtWords(SPACE, doc, { from: 2, to: 4 })?.words).toBe(' a')
  })

  test('positions that anybody made up lead nowhere, and break nothing', () => {
    const { doc } = line('The tide.')
    const words = { is: 'words', space: 'q1', words: 'ebb', before: '', after: '' } as const
    fc.assert(
      fc.property(fc.base64String({ maxLength: 40 }), fc.base64String({ maxLength: 40 }), (from, to) => {
        const now = wordsNow({ ...words, from, to }, readLetters('line', doc))
        expect(now === null || (now.from >= 0 && now.to <= 9)).toBe(true)
      }),
      { numRuns: runs(300, 20_000) },
    )
  })

  test('whatever two people write at once, what is found shares letters with what was meant', () => {
    const edit = fc.tuple(fc.nat(60), fc.nat(6), fc.string({ maxLength: 5 }))
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 12 }), fc.array(edit, { maxLength: 12 }), (mine, theirs) => {
        const { doc } = line('On Tuesday the harbour master waited until noon.')
        const anchor = anchored(doc, 'harbour master')
        const other = new Y.Doc()
        Y.applyUpdate(other, Y.encodeStateAsUpdate(doc))
        const write = (into: Y.Doc, edits: typeof mine) => {
          const text = into.getText('line')
          for (const [at, remove, insert] of edits) {
            const from = Math.min(at, text.length)
            text.delete(from, Math.min(remove, text.length - from))
            text.insert(from, insert)
          }
        }
        write(doc, mine)
        write(other, theirs)
        Y.applyUpdate(doc, Y.encodeStateAsUpdate(other))
        Y.applyUpdate(other, Y.encodeStateAsUpdate(doc))
        const now = standsAt(doc, anchor)
        // Both see it in the same place.
        expect(standsAt(other, anchor)).toBe(now)
        if (now === null) return
        const parts = Array.from({ length: 12 }, (_, at) => 'harbour master'.slice(at, at + 3))
        expect(parts.some((part) => now.includes(part))).toBe(true)
      }),
      { numRuns: runs(200, 5_000) },
    )
  })

  test('are looked for nearest to where they were, where all around them is alike', () => {
    const words = { words: 'tide', before: '', after: '' }
    expect(findWords('tide tide tide', words, 11)).toEqual({ from: 10, to: 14 })
    expect(findWords('ebb', words, 0)).toBeNull()
    expect(wordsAt('abc', 1, 2)).toEqual({ words: 'b', before: 'a', after: 'c' })
  })
})

test('what a comment is about is read strictly', () => {
  const words = { words: 'tide', before: 'a ', after: ' b' }
  const good = [
    { is: 'copy' },
    { is: 'space', space: 'q1' },
    { is: 'words', space: 'q1', from: 'AAAA', to: 'AQ==', ...words },
    { is: 'print', block: 'b1', from: 3, ...words },
  ]
  for (const anchor of good) expect(readAnchor({ ...anchor, more: 1 })).toEqual({ ok: true, value: anchor })
  const bad = [
    null,
    'copy',
    { is: 'space', space: '../x' },
    { is: 'words', space: 'q1', from: 'AAAA', to: 'not base64!', ...words },
    { is: 'words', space: 'q1', from: 'A'.repeat(401), to: 'AAAA', ...words },
    { is: 'print', block: 'b1', from: -1, ...words },
    { is: 'print', block: 'b1', from: 0, ...words, words: '  ' },
    { is: 'print', block: 'b1', from: 0, ...words, words: 'x'.repeat(WORDS_LIMIT + 1) },
    { is: 'print', block: 'b1', from: 0, ...words, after: 'x'.repeat(AROUND_LIMIT + 1) },
  ]
  for (const anchor of bad) expect(readAnchor(anchor).ok).toBe(false)
})

test('the words of a comment', () => {
  expect(commentText('  Who is that?\n\u0000 ')).toEqual({ ok: true, value: 'Who is that?' })
  expect(commentText(' \u0007 ').ok).toBe(false)
  expect(commentText('a'.repeat(COMMENT_LIMIT)).ok).toBe(true)
  expect(commentText('a'.repeat(COMMENT_LIMIT + 1)).ok).toBe(false)
})

const COPY: CopyFacts = {
  schoolId: 's',
  way: 'one each',
  isKept: false,
  holders: new Map([['zofia', 'edit']]),
  readers: new Map([
    ['rania', 'comment'],
    ['elif', 'view'],
  ]),
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
  dueAt: null,
  pensDownAtDue: false,
  lateWork: true,
  guestsUntil: Infinity,
  guestIs: new Map(),
  namedHelpers: new Set(['hana']),
  timeZone: 'UTC',
  locale: 'en-GB',
}
const as = (
  personId: string,
  role: ClassRole,
  { now = 100, school = 'student', ...copy }: Partial<CopyFacts> & { now?: number; school?: SchoolRole } = {},
): Reader => ({ viewer: { personId, schoolId: 's', role: school }, role, copy: { ...COPY, ...copy }, now })
const comment = (personId: string, more: Partial<KeptComment> = {}): KeptComment => ({
  id: `by ${personId}`,
  personId,
  name: personId,
  byStaff: personId === 'okonjo',
  readerNumber: null,
  at: 1,
  editedAt: null,
  deletedAt: null,
  deletedBy: null,
  text: `words of ${personId}`,
  ...more,
})
const thread = (comments: readonly KeptComment[], more: Partial<KeptThread> = {}): KeptThread => ({
  id: 't',
  version: 1,
  copyId: 'c',
  kind: 'comment',
  staffOnly: false,
  releasedAt: null,
  anchor: { is: 'copy' },
  personId: comments[0]!.personId,
  doneAt: null,
  doneBy: null,
  doneById: null,
  comments,
  ...more,
})
const question = (...comments: KeptComment[]) => thread(comments, { kind: 'question', staffOnly: true })

describe('who may say something in a copy', () => {
  test.each<[string, Reader, boolean, boolean]>([
    ['its holder', as('zofia', 'student'), true, true],
    ['its holder, once submitted', as('zofia', 'student', { state: 'submitted' }), true, true],
    ['its holder, to view', as('zofia', 'student', { holders: new Map([['zofia', 'view']]) }), false, true],
    ['its holder, set aside', as('zofia', 'student', { setAside: true }), false, false],
    ['its holder, who left', as('zofia', 'left'), false, false],
    ['a reader who comments', as('rania', 'student'), true, true],
    ['a reader who views', as('elif', 'student'), false, false],
    ['a classmate', as('theo', 'student'), false, false],
    ['the lead', as('okonjo', 'lead', { school: 'teacher' }), true, false],
    ['a helper', as('abara', 'helper', { school: 'teacher' }), true, false],
    ['a helper of hers', as('hana', 'named helper', { school: 'teacher' }), true, false],
    ['a helper of others', as('hugo', 'named helper', { school: 'teacher' }), false, false],
    ['the office', as('ferreira', 'none', { school: 'office' }), false, false],
  ])('%s', (_, reader, comments, asks) => {
    expect(mayBegin(reader, 'comment').may).toBe(comments)
    expect(mayBegin(reader, 'question').may).toBe(asks)
  })

  test('a question for the staff alone is seen by nobody else but who asked', () => {
    const asked = question(comment('zofia'))
    const sees = (reader: Reader) => mayWithThread(reader, asked, 'see').may
    expect(sees(as('zofia', 'student'))).toBe(true)
    expect(sees(as('okonjo', 'lead', { school: 'teacher' }))).toBe(true)
    expect(sees(as('rania', 'student'))).toBe(false)
    expect(threadSeen(asked, as('rania', 'student'))).toBeNull()
    expect(threadSeen(asked, as('elif', 'student', { classmatesMay: 'edit' }))).toBeNull()
  })

  test('who may only view reads what is said, or does not, as the slip says; their own questions they do', () => {
    const sees = (reader: Reader, by = 'okonjo') => mayWithThread(reader, thread([comment(by)]), 'see').may
    const hidden = { viewersReadComments: false }
    expect(sees(as('elif', 'student'))).toBe(true)
    expect(sees(as('elif', 'student', hidden))).toBe(false)
    expect(sees(as('elif', 'student', hidden), 'elif')).toBe(true)
    expect(sees(as('rania', 'student', hidden))).toBe(true)
    expect(sees(as('zofia', 'student', { ...hidden, holders: new Map([['zofia', 'view']]) }))).toBe(false)
    // Whose work it is reads on when it is set aside, or they have left.
    expect(sees(as('zofia', 'left', hidden))).toBe(true)
    expect(sees(as('zofia', 'student', { ...hidden, setAside: true }))).toBe(true)
  })

  test('a class keeps its students from commenting on one another, not from the staff nor from asking', () => {
    const apart = { classmatesComment: false }
    const both = new Map<string, Permission>([
      ['zofia', 'edit'],
      ['rania', 'edit'],
    ])
    const may = (reader: Reader, kind: 'comment' | 'question' = 'comment') => mayBegin(reader, kind).may
    expect(may(as('zofia', 'student', apart))).toBe(true)
    expect(may(as('zofia', 'student', { ...apart, holders: both }))).toBe(false)
    expect(may(as('zofia', 'student', { ...apart, holders: both }), 'question')).toBe(true)
    // Chosen to read and to say what they think; let in, or a classmate as any.
    expect(may(as('rania', 'student', apart))).toBe(true)
    expect(may(as('theo', 'student', { ...apart, classmatesMay: 'comment' }))).toBe(false)
    expect(may(as('okonjo', 'lead', { ...apart, school: 'teacher' }))).toBe(true)
    const replies = (by: string, reader: Reader) => mayWithThread(reader, thread([comment(by)]), 'reply').may
    expect(replies('okonjo', as('zofia', 'student', { ...apart, holders: both }))).toBe(true)
    expect(replies('rania', as('zofia', 'student', { ...apart, holders: both }))).toBe(false)
  })

  test('a reader who is not named is a number to all but the staff and themselves, whatever they did', () => {
    const said = thread([comment('rania', { readerNumber: 2 })], { doneAt: 5, doneBy: 'rania', doneById: 'rania' })
    const names = (reader: Reader) => {
      const seen = threadSeen(said, reader)!
      return [seen.comments[0]!.name, seen.done!.by]
    }
    expect(names(as('zofia', 'student'))).toEqual(['Peer reader 2', 'Peer reader 2'])
    expect(names(as('elif', 'student'))).toEqual(['Peer reader 2', 'Peer reader 2'])
    expect(names(as('rania', 'student'))).toEqual(['rania', 'rania'])
    expect(names(as('okonjo', 'lead', { school: 'teacher' }))).toEqual(['rania', 'rania'])
  })

  test('who began a thing, whose copy it is and the staff say that it is done with', () => {
    const may = (reader: Reader) => mayWithThread(reader, thread([comment('rania')]), 'do').may
    expect(may(as('rania', 'student'))).toBe(true)
    expect(may(as('zofia', 'student'))).toBe(true)
    expect(may(as('okonjo', 'lead', { school: 'teacher' }))).toBe(true)
    expect(may(as('elif', 'student', { classmatesMay: 'comment' }))).toBe(false)
  })

  test('one changes and deletes one’s own; teachers delete others’ too, helpers do not', () => {
    const said = thread([comment('rania')])
    const may = (reader: Reader, act: 'edit' | 'delete') => mayWithComment(reader, said, said.comments[0]!, act).may
    expect([may(as('rania', 'student'), 'edit'), may(as('rania', 'student'), 'delete')]).toEqual([true, true])
    expect([may(as('zofia', 'student'), 'edit'), may(as('zofia', 'student'), 'delete')]).toEqual([false, false])
    const lead = as('okonjo', 'lead', { school: 'teacher' })
    expect([may(lead, 'edit'), may(lead, 'delete')]).toEqual([false, true])
    const helper = as('abara', 'helper', { school: 'teacher' })
    expect([may(helper, 'edit'), may(helper, 'delete')]).toEqual([false, false])
  })

  test('a deleted comment is brought back by who deleted it, for a while, and seen by nobody else', () => {
    const gone = comment('rania', { deletedAt: 100, deletedBy: 'rania' })
    const said = thread([gone, comment('okonjo')])
    const back = (reader: Reader) => mayWithComment(reader, said, gone, 'bring back').may
    expect(back(as('rania', 'student', { now: 99 + BRING_BACK }))).toBe(true)
    expect(back(as('rania', 'student', { now: 100 + BRING_BACK }))).toBe(false)
    expect(back(as('okonjo', 'lead', { school: 'teacher' }))).toBe(false)
    expect(threadSeen(said, as('zofia', 'student'))?.comments.map(({ name }) => name)).toEqual(['okonjo'])
    expect(threadSeen(said, as('rania', 'student'))?.comments[0]).toMatchObject({ isDeleted: true, text: '' })
    expect(threadSeen(thread([gone]), as('zofia', 'student'))).toBeNull()
  })

  test('guests are not told who is in the class', () => {
    const guest = as('guest', 'none', {
      school: 'guest',
      way: 'one together',
      holders: new Map<string, Permission>([
        ['guest', 'edit'],
        ['zofia', 'edit'],
      ]),
    })
    const seen = threadSeen(thread([comment('zofia'), comment('okonjo'), comment('guest')]), guest)
    expect(seen?.comments.map(({ name }) => name)).toEqual(['Somebody in the class', 'okonjo', 'guest'])
  })

  test('nobody sees more than they see of the copy, whoever they are', () => {
    fc.assert(
      fc.property(
        fc.constantFrom<ClassRole>('lead', 'co-teacher', 'helper', 'named helper', 'student', 'left', 'none'),
        fc.constantFrom('zofia', 'rania', 'elif', 'theo', 'okonjo'),
        fc.boolean(),
        fc.boolean(),
        fc.constantFrom('zofia', 'rania', 'okonjo'),
        (role, personId, setAside, staffOnly, by) => {
          const reader = as(personId, role, { setAside })
          const said = thread([comment(by)], { staffOnly })
          const sees = mayWithThread(reader, said, 'see').may
          if (mayWithThread(reader, said, 'reply').may || mayWithThread(reader, said, 'do').may) expect(sees).toBe(true)
          if (mayWithComment(reader, said, said.comments[0]!, 'edit').may) expect(by).toBe(personId)
          expect(threadSeen(said, reader) !== null).toBe(sees)
        },
      ),
      { numRuns: runs(300, 5_000) },
    )
  })
})

test('a question waits until somebody of the staff has written after who asked, or it is done with', () => {
  expect(isWaiting(thread([comment('zofia')]))).toBe(false)
  expect(isWaiting(question(comment('zofia')))).toBe(true)
  expect(isWaiting(question(comment('zofia'), comment('rania')))).toBe(true)
  expect(isWaiting(question(comment('zofia'), comment('okonjo')))).toBe(false)
  expect(isWaiting(question(comment('zofia'), comment('okonjo'), comment('zofia')))).toBe(true)
  // An answer that was deleted is none.
  expect(isWaiting(question(comment('zofia'), comment('okonjo', { deletedAt: 5 })))).toBe(true)
  expect(isWaiting(question(comment('zofia', { deletedAt: 5 })))).toBe(false)
  expect(isWaiting({ ...question(comment('zofia')), doneAt: 5 })).toBe(false)
})

test('questions about the same place of a worksheet belong together, whichever copy they are asked in', () => {
  const part = 'a'.repeat(32)
  const asked = (anchor: Anchor, at: number, more = {}) => ({
    handoutId: 'h',
    worksheetId: 'w',
    at,
    ...more,
    asked: aboutWhat(anchor),
  })
  const inSpace = (space: string) => ({ is: 'space', space }) as const
  const words = { words: 'tide', before: '', after: '' }
  const groups = askedTogether([
    asked(inSpace('q1'), 5),
    asked({ is: 'words', space: `q1_${part}`, from: '', to: '', ...words }, 2),
    asked(inSpace('q1'), 3, { handoutId: 'other' }),
    asked(inSpace('q2'), 1),
    asked({ is: 'print', block: 'b', from: 0, ...words }, 4),
    asked({ is: 'print', block: 'b', from: 9, ...words }, 6),
    asked({ is: 'copy' }, 1),
    asked({ is: 'copy' }, 2),
  ])
  expect(groups.map((group) => group.map(({ at }) => at))).toEqual([
    [2, 5],
    [4, 6],
  ])
})

describe('who is named in a comment', () => {
  const people = [
    { id: 'a', name: 'Ana' },
    { id: 'ap', name: 'Ana Pires' },
    { id: 'z', name: 'Zofia Dąbrowska' },
    { id: 'l', name: 'ليلى حداد' },
  ]
  test.each([
    ['@Ana Pires, look', ['ap']],
    ['Ask @Ana or @zofia dąbrowska.', ['a', 'z']],
    ['@Anastasia and @Ana1', []],
    ['ana@Ana.example', []],
    ['(@ليلى حداد)', ['l']],
    ['@@Ana @Ana', ['a', 'a']],
    ['@', []],
  ])('%s', (text, ids) => {
    const found = mentionsIn(text, people)
    expect(found.map(({ id }) => id)).toEqual(ids)
    for (const { from, to } of found)
      expect(text.slice(from, from + 1) + text.slice(from + 1, to).trim()).toBe(text.slice(from, to))
  })

  test('is offered while a name is typed after the sign', () => {
    const begun = (text: string) => mentionBegun(text, text.length)?.typed ?? null
    expect(['Ask @', 'Ask @zof', 'Ask @Zofia D', 'Ask @Zofia\n', 'mail@zof', 'Ask @ you', 'Ask'].map(begun)).toEqual([
      '',
      'zof',
      'Zofia D',
      null,
      null,
      null,
      null,
    ])
    expect(mentionBegun('Ask @zof, please', 8)).toEqual({ from: 4, typed: 'zof' })
    expect(mentionable(people, 'dabr', 5).map(({ id }) => id)).toEqual(['z'])
    expect(mentionable(people, '', 2)).toHaveLength(2)
    expect(mentionable(people, 'ires', 5)).toEqual([])
  })

  test('is somebody who sees the copy, and of whom the other is told', () => {
    const hana = as('hana', 'named helper', { school: 'teacher' })
    const named = (reader: Reader, who: Reader, copy: Partial<CopyFacts> = {}) =>
      mayBeNamed({ ...reader, copy: { ...reader.copy, ...copy } }, who)
    const zofia = as('zofia', 'student')
    expect(named(zofia, as('okonjo', 'lead', { school: 'teacher' }))).toBe(true)
    expect(named(zofia, hana)).toBe(true)
    expect(named(zofia, as('rania', 'student'))).toBe(true)
    expect(named(zofia, as('theo', 'student'))).toBe(false)
    expect(named(zofia, zofia)).toBe(false)
    // A reader who is not named is told of to the staff alone.
    expect(named(zofia, as('rania', 'student'), { readersNamed: false })).toBe(false)
    expect(named(hana, as('rania', 'student'), { readersNamed: false })).toBe(true)
    const guest = as('zofia', 'none', { school: 'guest' })
    expect(named(guest, as('rania', 'student'))).toBe(false)
    expect(named(guest, hana)).toBe(true)
  })
})
