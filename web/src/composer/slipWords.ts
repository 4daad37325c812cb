import {
  type BlankName,
  type ClassTimes,
  type CoverNote,
  type HandoutItem,
  type OthersPlaces,
  type Marking,
  type NoteText,
  type RubricRow,
  type SlipText,
  type Statement,
  linkTitle,
  noteStart,
  writeTyped,
} from '@gavrin/core'
import { timeInWords } from '../ui/time'
import { CHECKS_WORDS } from './MoreLines'
import { afterOf, joinersWord, remindWord } from './SeldomLines'
import type { SlipFacts } from './blanks/slip'

const LABELS: Record<BlankName, string> = {
  title: 'Title',
  worksheet: 'Worksheet',
  rules: 'Different worksheets',
  audience: 'To whom',
  way: 'Way',
  'they may': 'They may',
  'classmates may': 'Classmates may',
  'peer readers': 'Peer readers',
  'others’ places': 'Places of others',
  'own copies': 'Copies of their own',
  'comments for viewers': 'Comments, for who may only view',
  'letting in': 'Letting classmates in',
  name: 'Name of the copies',
  'taken back': 'Taken back',
  'single copies': 'Copies with something of their own',
  writing: 'What was written',
  'after due': 'After the due time',
  reminding: 'A day before it is due',
  checks: 'Which answers are right',
  exceptions: 'Other times',
  joiners: 'Who joins later',
  cover: 'Cover note',
  marking: 'Marking',
  unit: 'Unit',
  instructions: 'Instructions',
  times: 'Opens and is due',
  slip: 'A slip more or less',
}

/** What a blank of a slip is called; where there are several of its kind, with which it is of. */
export function blankLabel(
  { name, of }: { name: BlankName; of: string | null },
  slip: SlipText,
  facts: SlipFacts,
): string {
  const label = LABELS[name]
  if (name === 'times') {
    const part = facts.parts.find(({ classId }) => classId === of)
    return facts.parts.length > 1 && part ? `${label}, ${part.facts.className}` : label
  }
  const at = slip.statement.items.findIndex(({ id }) => id === of)
  return of !== null && slip.statement.items.length > 1 && at >= 0 ? `${label}, ${at + 1}. sentence` : label
}

/** What stands in a blank of a slip, in words. */
export function blankWords(name: BlankName, value: unknown, facts: SlipFacts): string {
  const item = value as HandoutItem
  const statement = value as Statement
  switch (name) {
    case 'title':
      return String(value) || 'as the worksheet'
    case 'worksheet':
      if (item.link) return linkTitle(item.link)
      return `${facts.worksheets.find(({ id }) => id === item.worksheetId)?.title ?? 'not chosen'}${item.edition === null ? '' : `, edition ${item.edition}`}`
    case 'rules':
      return item.match ? `by ${item.match.of.name}, ${item.match.rules.length} chosen` : 'the same for all'
    case 'audience':
      return audienceWords(item.audience)
    case 'way':
      return item.groupSet && item.way === 'one per group' ? `${item.way} of ${item.groupSet.name}` : item.way
    case 'they may':
      return item.holdersMay === 'view' ? 'only view' : item.holdersMay
    case 'classmates may':
      return item.classmatesMay === 'none' ? 'not see it' : item.classmatesMay
    case 'peer readers':
      return item.peers
        ? [
            `${item.peers.each} each, ${item.peers.may}`,
            ...(item.peers.lookFor.length ? [`look for ${item.peers.lookFor.join(' · ')}`] : []),
            ...(item.peers.until === null ? [] : [`until ${timeInWords(item.peers.until)}`]),
            ...(item.peers.named ? [] : ['not named']),
          ].join(', ')
        : 'none'
    case 'comments for viewers':
      return item.viewersReadComments ? 'read' : 'not read'
    case 'own copies':
      return item.ownCopies ? 'students may make some' : 'none'
    case 'others’ places':
      return OTHERS_PLACES_WORDS[item.othersPlaces]
    case 'letting in':
      return item.mayInvite ? 'students may' : 'nobody'
    case 'name':
      return writeTyped(item.pattern)
    case 'taken back':
      return item.without.length === 0 ? 'nothing' : `${item.without.length} copies`
    case 'single copies':
      return Object.keys(item.single).length === 0 ? 'none' : `${Object.keys(item.single).length} copies`
    case 'writing':
      return item.carry
    case 'after due':
      return afterOf(statement).word
    case 'reminding':
      return `who has not submitted ${remindWord(statement)}`
    case 'checks':
      return CHECKS_WORDS[statement.checks]
    case 'exceptions':
      return statement.exceptions.length === 0 ? 'for nobody' : `for ${statement.exceptions.length} students`
    case 'joiners':
      return joinersWord(statement)
    case 'cover':
      return coverWords(statement.cover)
    case 'marking':
      return markingWords(statement.marking, statement.rubric)
    case 'unit':
      return statement.unit?.name ?? 'none'
    case 'instructions':
      return noteWords(statement.instructions)
    case 'times':
      return value === null ? 'a class more or less' : timesWords(value as ClassTimes)
    case 'slip':
      return ''
  }
}

function audienceWords(audience: HandoutItem['audience']): string {
  switch (audience.kind) {
    case 'all':
      return 'all'
    case 'some':
      return `${audience.personIds.length} by name`
    case 'all but':
      return `all but ${audience.personIds.length}`
    case 'column':
      return `${audience.values.join(', ')} (${audience.column.name})`
    case 'groups':
      return audience.groups.join(', ')
    case 'not said':
      return 'not said yet'
  }
}

const timesWords = ({ opensAt, dueAt }: ClassTimes) =>
  `${opensAt === null ? 'at once' : timeInWords(opensAt)}, due ${dueAt === null ? 'at no set time' : timeInWords(dueAt)}`

const noteWords = (note: NoteText | null) => (note ? `“${noteStart(note, 60)}”` : 'none')

const coverWords = (cover: CoverNote | null) =>
  cover ? `${cover.by === 'mail' ? 'by mail' : 'on their desk'}: ${noteWords(cover.text)}` : 'none'

const markingWords = (marking: Marking, rubric: readonly RubricRow[]) =>
  [
    marking.kind === 'points'
      ? `out of ${marking.points}`
      : marking.kind === 'scale'
        ? marking.steps.join(', ')
        : marking.kind === 'spaces'
          ? 'by the points of the answer spaces'
          : marking.kind === 'ungraded'
            ? 'by a remark alone'
            : 'not marked',
    ...(rubric.length > 0 ? [`rubric of ${rubric.length}`] : []),
  ].join(', ')

/** Whether the places of others are read. */
export const OTHERS_PLACES_WORDS: Readonly<Record<OthersPlaces, string>> = {
  read: 'may be read',
  'hidden until due': 'stay hidden until it is due',
  hidden: 'stay hidden',
}
