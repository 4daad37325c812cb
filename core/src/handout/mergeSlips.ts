import { isSame } from '../worksheet/same.js'
import type { ClassTimes, HandoutItem, Statement } from './statement.js'

/** A slip as it is edited and kept. */
export interface SlipText {
  readonly title: string
  readonly statement: Statement
}

/** The parts of a sentence that are filled in together. */
const ITEM_BLANKS = {
  worksheet: ['worksheetId', 'edition', 'link', 'earlier'],
  rules: ['match'],
  audience: ['audience'],
  way: ['way', 'groupSet'],
  'they may': ['holdersMay'],
  'classmates may': ['classmatesMay'],
  'peer readers': ['peers'],
  'letting in': ['mayInvite'],
  'others’ places': ['othersPlaces'],
  'own copies': ['ownCopies'],
  'comments for viewers': ['viewersReadComments'],
  name: ['pattern'],
  'taken back': ['without'],
  'single copies': ['single'],
  writing: ['carry', 'carryChosen'],
} as const satisfies Record<string, readonly (keyof HandoutItem)[]>

/** The parts of the whole handout that are filled in together. */
const WHOLE_BLANKS = {
  'after due': ['pensDownAtDue', 'lateWork'],
  reminding: ['remindBefore'],
  checks: ['checks'],
  exceptions: ['exceptions'],
  joiners: ['joiners'],
  cover: ['cover'],
  marking: ['marking', 'rubric', 'lateDeduction', 'rounds'],
  unit: ['unit'],
  instructions: ['instructions'],
} as const satisfies Record<string, readonly (keyof Statement)[]>

/** What can be filled in: of the slip, of one of its sentences or of one of its classes; `slip` and `class` are these as a whole. */
export type BlankName = 'title' | keyof typeof ITEM_BLANKS | keyof typeof WHOLE_BLANKS | 'times' | 'slip'

/** Something that can be filled in, with what stands in it. */
export interface SlipBlank {
  readonly name: BlankName
  /** The sentence or the class it is of; null: of the whole handout. */
  readonly of: string | null
  /** Absent where the sentence or the class is not there at all. */
  readonly value: unknown
}

const keyOf = ({ name, of }: Pick<SlipBlank, 'name' | 'of'>) => `${name} ${of ?? ''}`

const pick = <T extends object>(of: T, fields: readonly (keyof T)[]) =>
  Object.fromEntries(fields.map((field) => [field, of[field]]))

/** All that is filled in in a slip. */
function blanksOf({ title, statement }: SlipText): Map<string, SlipBlank> {
  const blanks: SlipBlank[] = [{ name: 'title', of: null, value: title }]
  for (const [name, fields] of Object.entries(WHOLE_BLANKS))
    blanks.push({ name: name as BlankName, of: null, value: pick(statement, fields) })
  for (const times of statement.classes) blanks.push({ name: 'times', of: times.classId, value: times })
  for (const item of statement.items)
    for (const [name, fields] of Object.entries(ITEM_BLANKS))
      blanks.push({ name: name as BlankName, of: item.id, value: pick(item, fields) })
  return new Map(blanks.map((blank) => [keyOf(blank), blank]))
}

/** A blank in which both changed something, and not the same. */
export interface SlipConflict {
  readonly name: BlankName
  readonly of: string | null
  readonly mine: unknown
  readonly theirs: unknown
}

export interface MergedSlips {
  /** With what only one changed, and mine where both did. */
  readonly slip: SlipText
  /** What only they changed, as it is now. */
  readonly taken: readonly SlipBlank[]
  readonly conflicts: readonly SlipConflict[]
}

/**
 * Two slips that came of one, blank by blank: what one of the two changed is taken, what both changed is told. A sentence or a
 * class that one of the two took out is gone, unless the other changed something in it.
 */
export function mergeSlips(base: SlipText, mine: SlipText, theirs: SlipText): MergedSlips {
  const [was, my, their] = [base, mine, theirs].map(blanksOf) as [
    ReturnType<typeof blanksOf>,
    ReturnType<typeof blanksOf>,
    ReturnType<typeof blanksOf>,
  ]
  const items = mergeLists(base.statement.items, mine.statement.items, theirs.statement.items, ({ id }) => id)
  const classes = mergeLists(
    base.statement.classes,
    mine.statement.classes,
    theirs.statement.classes,
    ({ classId }) => classId,
  )
  let slip: SlipText = {
    title: mine.title,
    statement: { ...mine.statement, items: items.all, classes: classes.all },
  }
  const taken: SlipBlank[] = [
    ...items.news.map((of): SlipBlank => ({ name: 'slip', of, value: null })),
    ...classes.news.map((of): SlipBlank => ({ name: 'times', of, value: null })),
  ]
  const conflicts: SlipConflict[] = []
  for (const [key, { name, of, value: theirValue }] of their) {
    const myBlank = my.get(key)
    const wasBlank = was.get(key)
    // A sentence or a class that only one of the two has is dealt with as a whole.
    if (!myBlank || !wasBlank || isSame(myBlank.value, theirValue) || isSame(wasBlank.value, theirValue)) continue
    if (isSame(wasBlank.value, myBlank.value)) {
      slip = putBlank(slip, { name, of, value: theirValue })
      taken.push({ name, of, value: theirValue })
    } else conflicts.push({ name, of, mine: myBlank.value, theirs: theirValue })
  }
  return { slip, taken, conflicts }
}

/** A slip with something filled in. */
export function putBlank({ title, statement }: SlipText, { name, of, value }: SlipBlank): SlipText {
  if (name === 'title') return { title: String(value), statement }
  if (name === 'times')
    return {
      title,
      statement: {
        ...statement,
        classes: statement.classes.map((times) => (times.classId === of ? (value as ClassTimes) : times)),
      },
    }
  if (of === null) return { title, statement: { ...statement, ...(value as Partial<Statement>) } }
  return {
    title,
    statement: {
      ...statement,
      items: statement.items.map((item) => (item.id === of ? { ...item, ...(value as Partial<HandoutItem>) } : item)),
    },
  }
}

/** Lists whose entries came and went on two sides: those of mine in my order, then what they added. */
function mergeLists<T>(base: readonly T[], mine: readonly T[], theirs: readonly T[], idOf: (one: T) => string) {
  const byId = (list: readonly T[]) => new Map(list.map((one) => [idOf(one), one]))
  const [was, my, their] = [byId(base), byId(mine), byId(theirs)]
  const kept = mine.filter((one) => their.has(idOf(one)) || !was.has(idOf(one)) || !isSame(was.get(idOf(one)), one))
  const added = theirs.filter((one) => !my.has(idOf(one)) && (!was.has(idOf(one)) || !isSame(was.get(idOf(one)), one)))
  const gone = mine.filter((one) => !kept.includes(one)).map(idOf)
  return { all: [...kept, ...added], news: [...added.map(idOf), ...gone] }
}
