import { PERMISSIONS, type Permission } from '../access/permission.js'
import { type Outcome, type Problem, fine } from '../errors/problem.js'
import { checkPattern } from '../naming/pattern.js'
import { cleanText } from '../roster/names.js'
import { isLinkAddress } from '../worksheet/checkRich.js'
import { readNote } from './note.js'
import { COPY_TITLE_LIMIT } from './singleCopies.js'
import {
  type SingleCopy,
  type Audience,
  type ClassTimes,
  type CoverNote,
  type Exception,
  type HandoutItem,
  LOOK_FOR_LIMITS,
  OTHERS_PLACES,
  type Marking,
  type MatchRule,
  type Matching,
  type Peers,
  CHECKS,
  ROUNDS,
  type Ref,
  type RubricLevel,
  type RubricRow,
  type Statement,
  WAYS,
  type Way,
  plainItem,
  CARRIES,
} from './statement.js'

export const ITEM_LIMIT = 20
export const CLASS_LIMIT = 20
export const PEERS_LIMIT = 10
const PEOPLE_LIMIT = 20_000
const RULE_LIMIT = 100
/** Rows of a rubric, levels of a row, letters of what either is called, points of a row. */
export const RUBRIC_LIMITS = { rows: 50, levels: 10, letters: 300, points: 10_000 } as const
const POINTS_LIMIT = RUBRIC_LIMITS.points
const TEXT_LIMIT = RUBRIC_LIMITS.letters
const ID = /^[A-Za-z0-9_-]{1,64}$/
const SLOT = /^[A-Za-z0-9_:@-]{1,250}$/

type Wrong = (field: string, sentence: string) => void
type Raw = Readonly<Record<string, unknown>>

/**
 * Reads a statement from anywhere. Problems name the place: `items.0.audience`. What an older statement did not have yet is
 * as {@link plainItem} and `plainStatement` have it.
 */
export function checkStatement(input: unknown): Outcome<Statement> {
  const problems: Problem[] = []
  const wrong: Wrong = (field, sentence) => problems.push({ code: 'statement-malformed', field, sentence })
  const raw = record(input)
  if (!Array.isArray(raw['items']) || raw['items'].length > ITEM_LIMIT) {
    wrong('items', `A handout has up to ${ITEM_LIMIT} slips.`)
    return { ok: false, problems }
  }
  const ids = new Set<string>()
  const items = raw['items'].map((item: unknown, at) => readItem(record(item), `items.${at}`, ids, wrong, problems))
  const statement: Statement = {
    items,
    classes: readClasses(raw['classes'], wrong),
    pensDownAtDue: raw['pensDownAtDue'] === true,
    lateWork: raw['lateWork'] !== false,
    remindBefore: raw['remindBefore'] === true,
    exceptions: readExceptions(raw['exceptions'], wrong),
    joiners: raw['joiners'] === 'wait' ? 'wait' : 'by themselves',
    cover: readCover(raw['cover'], wrong),
    ...readMarkingParts(raw, wrong),
    checks: CHECKS.find((when) => when === raw['checks']) ?? 'no',
    rounds: ROUNDS.find((how) => how === raw['rounds']) ?? 'last',
    unit: readRef(raw['unit'], 'unit', wrong),
    instructions: readNote(raw['instructions'], 'instructions', wrong),
  }
  return problems.length ? { ok: false, problems } : fine(statement)
}

/** Reads how copies are marked, as a slip says it. */
export function checkMarking(input: unknown): Outcome<Pick<Statement, 'marking' | 'rubric' | 'lateDeduction'>> {
  const problems: Problem[] = []
  const read = readMarkingParts(record(input), (field, sentence) =>
    problems.push({ code: 'statement-malformed', field, sentence }),
  )
  return problems.length ? { ok: false, problems } : fine(read)
}

const readMarkingParts = (raw: Raw, wrong: Wrong) => ({
  marking: readMarking(raw['marking'], wrong),
  rubric: readRubric(raw['rubric'], wrong),
  lateDeduction: readLateDeduction(raw['lateDeduction'], wrong),
})

function readItem(item: Raw, place: string, ids: Set<string>, wrong: Wrong, problems: Problem[]): HandoutItem {
  const { id } = item
  if (typeof id !== 'string' || !ID.test(id) || ids.has(id))
    wrong(`${place}.id`, 'Each slip of a handout needs an id of its own.')
  else ids.add(id)
  const plain = plainItem(String(id), null, null)
  const way = item['way'] as Way
  if (!WAYS.includes(way))
    wrong(`${place}.way`, 'A worksheet is given one each, one per group, one together, or to read.')
  const worksheetId = readId(item['worksheetId'], `${place}.worksheetId`, 'This worksheet cannot be read.', wrong)
  const edition = readEdition(item['edition'], `${place}.edition`, wrong)
  const permission = (field: 'holdersMay' | 'classmatesMay'): Permission => {
    const value = item[field] as Permission
    if (!PERMISSIONS.includes(value)) wrong(`${place}.${field}`, 'A permission is edit, comment, view or none.')
    return value
  }
  const holdersMay = permission('holdersMay')
  if (way === 'to read' && holdersMay === 'edit')
    wrong(`${place}.holdersMay`, 'A worksheet that is given to read is the original: nobody writes in it.')
  const pattern = checkPattern(item['pattern'])
  if (!pattern.ok)
    problems.push(...pattern.problems.map((problem) => ({ ...problem, field: `${place}.${problem.field}` })))
  return {
    id: String(id),
    worksheetId,
    edition,
    link: readLink(item['link'], `${place}.link`, wrong),
    match: readMatching(item['match'], `${place}.match`, wrong),
    audience: readAudience(item['audience'], `${place}.audience`, wrong),
    way,
    groupSet: readRef(item['groupSet'], `${place}.groupSet`, wrong),
    holdersMay,
    classmatesMay: permission('classmatesMay'),
    peers: readPeers(item['peers'], `${place}.peers`, wrong),
    mayInvite: item['mayInvite'] === true,
    othersPlaces: OTHERS_PLACES.find((one) => one === item['othersPlaces']) ?? 'read',
    viewersReadComments: item['viewersReadComments'] !== false,
    ownCopies: item['ownCopies'] === true && way === 'to read',
    pattern: pattern.ok ? pattern.value : plain.pattern,
    earlier: readEarlier(item['earlier'], `${place}.earlier`, wrong),
    without: readStrings(item['without'] ?? [], SLOT, `${place}.without`, 'These copies cannot be read.', wrong),
    single: readSingle(item['single'], way, `${place}.single`, wrong),
    carry: CARRIES.find((carry) => carry === item['carry']) ?? 'keep aside',
    carryChosen: readChosen(item['carryChosen'], `${place}.carryChosen`, wrong),
  }
}

function readId(input: unknown, field: string, sentence: string, wrong: Wrong): string | null {
  if (input === null || input === undefined) return null
  if (typeof input === 'string' && ID.test(input)) return input
  wrong(field, sentence)
  return null
}

function readEdition(input: unknown, field: string, wrong: Wrong): number | null {
  if (input === null || input === undefined) return null
  if (Number.isInteger(input) && (input as number) > 0 && (input as number) < 1_000_000) return input as number
  wrong(field, 'This edition cannot be read.')
  return null
}

function readTime(input: unknown, field: string, sentence: string, wrong: Wrong): number | null {
  if (input === null || input === undefined) return null
  if (Number.isInteger(input) && Math.abs(input as number) < 8.64e15) return input as number
  wrong(field, sentence)
  return null
}

function readStrings(input: unknown, form: RegExp, field: string, sentence: string, wrong: Wrong): string[] {
  if (
    Array.isArray(input) &&
    input.length <= PEOPLE_LIMIT &&
    input.every((entry): entry is string => typeof entry === 'string' && form.test(entry))
  )
    return [...new Set(input)]
  wrong(field, sentence)
  return []
}

function readRef(input: unknown, field: string, wrong: Wrong): Ref | null {
  if (input === null || input === undefined) return null
  const { id, name } = record(input)
  const isId = id === null || id === undefined || (typeof id === 'string' && ID.test(id))
  if (isId && typeof name === 'string' && name.length <= TEXT_LIMIT) return { id: (id as string) ?? null, name }
  wrong(field, 'This cannot be found in a class.')
  return null
}

const SHORT_TEXT = /^[^\p{Cc}]{0,300}$/u

function readAudience(input: unknown, field: string, wrong: Wrong): Audience {
  const audience = record(input)
  switch (audience['kind']) {
    case 'all':
      return { kind: 'all' }
    case 'some':
    case 'all but':
      return {
        kind: audience['kind'],
        personIds: readStrings(audience['personIds'], ID, field, 'Say who this is for by name.', wrong),
      }
    case 'not said': {
      const { was } = audience
      return { kind: 'not said', was: typeof was === 'string' ? cleanText(was).slice(0, TEXT_LIMIT) : '' }
    }
    case 'column': {
      const column = readRef(audience['column'], field, wrong)
      const values = readStrings(audience['values'], SHORT_TEXT, field, 'Say which values this is for.', wrong)
      if (column) return { kind: 'column', column, values }
      break
    }
    case 'groups': {
      const set = readRef(audience['set'], field, wrong)
      const groups = readStrings(audience['groups'], SHORT_TEXT, field, 'Say which groups this is for.', wrong)
      if (set) return { kind: 'groups', set, groups }
      break
    }
  }
  wrong(field, 'Say who this is for: all, some, all but some, by a column or by groups.')
  return { kind: 'all' }
}

function readLink(input: unknown, field: string, wrong: Wrong): HandoutItem['link'] {
  if (input === null || input === undefined) return null
  const { address, title } = record(input)
  // An empty one is still to be filled in.
  if (typeof address !== 'string' || (address !== '' && !isLinkAddress(address))) {
    wrong(field, 'A link begins with https:// or http:// and leads to a page.')
    return null
  }
  return { address, title: typeof title === 'string' ? cleanText(title).slice(0, TEXT_LIMIT) : '' }
}

function readMatching(input: unknown, field: string, wrong: Wrong): Matching | null {
  if (input === null || input === undefined) return null
  const { by, of, rules } = record(input)
  const ref = readRef(of, field, wrong)
  if ((by !== 'column' && by !== 'group') || !ref || !Array.isArray(rules) || rules.length > RULE_LIMIT) {
    wrong(field, `Worksheets are chosen by a column or by group, with up to ${RULE_LIMIT} rules.`)
    return null
  }
  const read = rules.map((rule: unknown, at): MatchRule => {
    const { is, worksheetId, edition } = record(rule)
    const id = readId(worksheetId, `${field}.${at}`, 'This worksheet cannot be read.', wrong)
    const number = readEdition(edition, `${field}.${at}`, wrong)
    if (typeof is !== 'string' || !SHORT_TEXT.test(is) || id === null || number === null)
      wrong(`${field}.${at}`, 'A rule says for whom, and which worksheet.')
    return { is: String(is), worksheetId: id ?? '', edition: number ?? 1 }
  })
  return { by, of: ref, rules: read }
}

function readPeers(input: unknown, field: string, wrong: Wrong): Peers | null {
  if (input === null || input === undefined) return null
  const { each, may, seed, chosen, lookFor, until, named } = record(input)
  if (!Number.isInteger(each) || (each as number) < 1 || (each as number) > PEERS_LIMIT) {
    wrong(field, `A copy has 1 to ${PEERS_LIMIT} peer readers.`)
    return null
  }
  const byHand: Record<string, readonly string[]> = {}
  for (const [slot, people] of Object.entries(record(chosen)))
    if (SLOT.test(slot)) byHand[slot] = readStrings(people, ID, field, 'These peer readers cannot be read.', wrong)
  return {
    each: each as number,
    may: may === 'view' ? 'view' : 'comment',
    seed: Number.isInteger(seed) ? (seed as number) >>> 0 : 1,
    chosen: byHand,
    lookFor: readLookFor(lookFor, field, wrong),
    until: readTime(until, field, 'Until when peer readers read cannot be understood.', wrong),
    named: named !== false,
  }
}

function readLookFor(input: unknown, field: string, wrong: Wrong): string[] {
  if (input === null || input === undefined) return []
  const { sentences, letters } = LOOK_FOR_LIMITS
  const read = Array.isArray(input) ? input.map((one) => (typeof one === 'string' ? cleanText(one) : '')) : []
  const said = read.filter((sentence) => sentence !== '')
  if (said.length > sentences || said.some((sentence) => sentence.length > letters)) {
    wrong(field, `Peer readers can be asked for up to ${sentences} things, in up to ${letters} letters each.`)
    return []
  }
  return said
}

function readEarlier(input: unknown, field: string, wrong: Wrong): Record<string, number> {
  const earlier: Record<string, number> = {}
  for (const [slot, edition] of Object.entries(record(input)))
    if (SLOT.test(slot)) earlier[slot] = readEdition(edition, field, wrong) ?? 1
  return earlier
}

const SINGLE_LIMIT = 5_000

function readSingle(input: unknown, way: Way, field: string, wrong: Wrong): Record<string, SingleCopy> {
  const single: Record<string, SingleCopy> = {}
  const entries = Object.entries(record(input))
  if (entries.length > SINGLE_LIMIT) wrong(field, 'More copies than can be have something of their own.')
  else
    for (const [slot, of] of entries) {
      const { called, may } = record(of)
      const title = typeof called === 'string' ? cleanText(called).slice(0, COPY_TITLE_LIMIT) : ''
      const permission = PERMISSIONS.find((one) => one === may && !(way === 'to read' && one === 'edit')) ?? null
      if (SLOT.test(slot) && (title || permission)) single[slot] = { called: title || null, may: permission }
    }
  return single
}

/** A slot, and an answer space of its copy. */
const MEETING = /^\S{1,200} [\w-]{1,100}$/
const CHOSEN_LIMIT = 5_000

function readChosen(input: unknown, field: string, wrong: Wrong): Record<string, string> {
  const chosen: Record<string, string> = {}
  const entries = Object.entries(record(input))
  if (entries.length > CHOSEN_LIMIT) wrong(field, 'These are more answers than can be chosen among.')
  else
    for (const [key, from] of entries)
      if (MEETING.test(key) && typeof from === 'string' && (SLOT.test(from) || from === 'all' || from === 'none'))
        chosen[key] = from
  return chosen
}

function readClasses(input: unknown, wrong: Wrong): ClassTimes[] {
  if (input === undefined) return []
  if (!Array.isArray(input) || input.length > CLASS_LIMIT) {
    wrong('classes', `A handout is for up to ${CLASS_LIMIT} classes.`)
    return []
  }
  const seen = new Set<string>()
  return input.flatMap((entry: unknown, at): ClassTimes[] => {
    const { classId, opensAt, dueAt } = record(entry)
    const id = readId(classId, `classes.${at}`, 'This class cannot be read.', wrong)
    if (id === null || seen.has(id)) return []
    seen.add(id)
    return [
      {
        classId: id,
        opensAt: readTime(opensAt, `classes.${at}.opensAt`, 'This opening time cannot be read.', wrong),
        dueAt: readTime(dueAt, `classes.${at}.dueAt`, 'This due time cannot be read.', wrong),
      },
    ]
  })
}

function readExceptions(input: unknown, wrong: Wrong): Exception[] {
  if (input === undefined || input === null) return []
  if (!Array.isArray(input) || input.length > PEOPLE_LIMIT) {
    wrong('exceptions', 'These exceptions cannot be read.')
    return []
  }
  const byPerson = new Map<string, Exception>()
  input.forEach((entry: unknown, at) => {
    const { personId, opensAt, dueAt } = record(entry)
    const field = `exceptions.${at}`
    const id = readId(personId, field, 'This student cannot be read.', wrong)
    const exception = {
      opensAt: readTime(opensAt, field, 'This opening time cannot be read.', wrong),
      dueAt: readTime(dueAt, field, 'This due time cannot be read.', wrong),
    }
    if (id !== null) byPerson.set(id, { personId: id, ...exception })
  })
  return [...byPerson.values()]
}

function readCover(input: unknown, wrong: Wrong): CoverNote | null {
  if (input === null || input === undefined) return null
  const { text, by, staffCopied } = record(input)
  const note = readNote(text, 'cover', wrong)
  return note && { text: note, by: by === 'mail' ? 'mail' : 'here', staffCopied: staffCopied === true }
}

function readMarking(input: unknown, wrong: Wrong): Marking {
  if (input === undefined || input === null) return { kind: 'ungraded' }
  const { kind, points, steps, from } = record(input)
  if (kind === 'spaces' || kind === 'not marked') return { kind }
  if (kind === 'points') {
    if (isPoints(points) && points > 0) return { kind, points }
    wrong('marking', `Points are a number from 0 to ${POINTS_LIMIT}.`)
  } else if (kind === 'scale') {
    const read = Array.isArray(steps) ? steps.map((step: unknown) => cleanText(String(step)).slice(0, 60)) : []
    const clean = [...new Set(read.filter(Boolean))]
    if (clean.length < 2 || clean.length > 20) wrong('marking', 'A scale has 2 to 20 steps.')
    else if (from === undefined || from === null) return { kind, steps: clean }
    else if (isFalling(from, clean.length)) return { kind, steps: clean, from }
    else wrong('marking', 'The per cent from which steps are reached fall from 100 at most to 0, one for each step.')
  } else if (kind !== 'ungraded')
    wrong('marking', 'A handout is marked by points, by its answer spaces, by a scale, or not.')
  return { kind: 'ungraded' }
}

function readRubric(input: unknown, wrong: Wrong): RubricRow[] {
  if (input === undefined || input === null) return []
  if (!Array.isArray(input) || input.length > RUBRIC_LIMITS.rows) {
    wrong('rubric', `A rubric has up to ${RUBRIC_LIMITS.rows} rows.`)
    return []
  }
  return input.map((entry: unknown, at): RubricRow => {
    const { id, name, points, levels } = record(entry)
    if (typeof id !== 'string' || !ID.test(id) || typeof name !== 'string' || name.length > TEXT_LIMIT)
      wrong(`rubric.${at}`, 'A row of the rubric has a name.')
    if (!isPoints(points)) wrong(`rubric.${at}`, `Points are a number from 0 to ${POINTS_LIMIT}.`)
    const row = { id: String(id), name: cleanText(String(name)), points: Number(points) }
    const read = readLevels(levels, row.points, () => wrong(`rubric.${at}`, LEVELS_WRONG))
    return read.length > 0 ? { ...row, levels: read } : row
  })
}

const LEVELS_WRONG = `A row has up to ${RUBRIC_LIMITS.levels} levels, each with other points and none with more than the row.`

function readLevels(input: unknown, most: number, wrong: () => void): RubricLevel[] {
  if (input === undefined || input === null) return []
  if (!Array.isArray(input) || input.length > RUBRIC_LIMITS.levels) {
    wrong()
    return []
  }
  const read = input.map((entry: unknown): RubricLevel => {
    const { id, name, points } = record(entry)
    if (typeof id !== 'string' || !ID.test(id) || typeof name !== 'string' || !isPoints(points) || points > most)
      wrong()
    return { id: String(id), name: cleanText(String(name)).slice(0, TEXT_LIMIT), points: Number(points) }
  })
  if (new Set(read.map(({ points }) => points)).size < read.length) wrong()
  return read
}

const isFalling = (from: unknown, count: number): from is number[] =>
  Array.isArray(from) &&
  from.length === count &&
  from.every(
    (least: unknown, at) =>
      Number.isInteger(least) && (least as number) <= 100 && (at === 0 || (least as number) < (from[at - 1] as number)),
  ) &&
  from.at(-1) === 0

function readLateDeduction(input: unknown, wrong: Wrong): Statement['lateDeduction'] {
  if (input === undefined || input === null) return null
  const { perDay, atLeast } = record(input)
  const isPercent = (value: unknown, least: number): value is number =>
    Number.isInteger(value) && (value as number) >= least && (value as number) <= 100
  if (isPercent(perDay, 1) && isPercent(atLeast, 0)) return { perDay, atLeast }
  wrong('lateDeduction', 'What late work loses is 1 to 100 per cent a day, and what stays 0 to 100 per cent.')
  return null
}

const isPoints = (points: unknown): points is number =>
  typeof points === 'number' && points >= 0 && points <= POINTS_LIMIT && Number.isInteger(points * 100)

const record = (input: unknown): Raw => (typeof input === 'object' && input !== null ? (input as Raw) : {})
