import {
  type CopyCounts,
  type HandoutItem,
  type OthersPlaces,
  type Peers,
  type PlanFacts,
  type PlannedCopy,
  type Statement,
  type WholeProof,
  countCopies,
  fullName,
  linkTitle,
} from '@gavrin/core'
import { CHECKS_WORDS } from './MoreLines'
import { timeInWords } from '../ui/time'
import type { SlipPart } from './queries'

type Whole = WholeProof<SlipPart>

/** What becomes of copies, in all classes together. */
export function countWhole({ parts }: Pick<Whole, 'parts'>): CopyCounts {
  return parts
    .map(({ changes }) => countCopies(changes))
    .reduce(
      (sum, one) => ({
        make: sum.make + one.make,
        change: sum.change + one.change,
        aside: sum.aside + one.aside,
        notes: sum.notes + one.notes,
      }),
      { make: 0, change: 0, aside: 0, notes: 0 },
    )
}

const MAY = { edit: 'write in and submit', comment: 'read and comment on', view: 'only read', none: 'not see' } as const
const OTHERS_MAY = {
  edit: 'may write in it',
  comment: 'may comment on it',
  view: 'may read it',
  none: 'do not see it',
} as const

/** What the table does not show: who may do what, what the cover note does, and what holds after the due time. */
export function proofLines(proof: Whole, statement: Statement, worksheets: PlanFacts['worksheets']): string[] {
  const copies = proof.parts.flatMap(({ plan }) => plan.copies)
  const given = statement.items.filter(({ id }) => copies.some(({ itemId }) => itemId === id))
  const lines = given.map((item) => {
    const title = item.link ? linkTitle(item.link) : worksheets.find(({ id }) => id === item.worksheetId)?.title
    const words = accessInWords(
      item,
      copies.filter(({ itemId }) => itemId === item.id),
    )
    return given.length > 1 && title ? `“${title}”: ${words}` : words
  })
  if (copies.length === 0) return lines
  return [
    ...lines,
    coverInWords(proof, statement),
    ...(given.some(({ way }) => way !== 'to read') ? [after(statement)] : []),
    ...(statement.checks === 'no'
      ? []
      : [`Students are told which answers are right ${CHECKS_WORDS[statement.checks]}.`]),
  ]
}

function accessInWords(item: HandoutItem, copies: readonly PlannedCopy[]): string {
  if (item.link) return 'Students open the link.'
  if (item.way === 'to read')
    return `Students ${item.holdersMay === 'comment' ? 'read and comment on' : 'only read'} the original; ${item.ownCopies ? 'whoever wants to makes a copy of their own, writes in it and submits it' : 'nobody writes in it'}${item.viewersReadComments ? '' : '; who may only view it does not read what is said beside it'}.`
  const theirs = {
    'one each': 'their own copy',
    'one per group': 'the copy of their group',
    'one together': 'one copy that all share',
  }[item.way]
  const parts = [`Students ${MAY[item.holdersMay]} ${theirs}`]
  const places = Math.max(0, ...copies.map((copy) => copy.places.length))
  if (item.way === 'one together' && places > 0) parts.push(`each of ${places} groups writes in a place of its own`)
  const isShared = item.way === 'one together' || item.way === 'one per group'
  if (isShared && (places > 0 || item.othersPlaces !== 'read')) parts.push(OTHERS_PLACES_PROOF[item.othersPlaces])
  if (item.way !== 'one together') parts.push(`classmates ${OTHERS_MAY[item.classmatesMay]}`)
  if (item.peers) parts.push(peersInWords(item.peers))
  if (!item.viewersReadComments) parts.push('who may only view it does not read what is said beside it')
  if (item.way !== 'one together')
    parts.push(item.mayInvite ? 'students may let classmates into their copy' : 'students let nobody in')
  const seen = item.classmatesMay !== 'none' || item.peers !== null || item.mayInvite
  const differ = (of: (copy: PlannedCopy) => number | null) => new Set(copies.map(of)).size > 1
  return [
    `${parts.join('; ')}.`,
    ...(seen && differ(({ opensAt }) => opensAt)
      ? ['Copies open at different times: who waits for theirs may see the open ones of classmates.']
      : []),
    ...(seen && differ(({ dueAt }) => dueAt)
      ? ['Due times differ: who has more time may see what classmates have written and submitted.']
      : []),
  ].join(' ')
}

function coverInWords({ parts }: Whole, { cover }: Statement): string {
  if (!cover) return 'No cover note.'
  const to = parts.flatMap(({ part, changes }) => {
    const people = new Map(part.facts.members.map((member) => [member.personId, member]))
    const staff = new Map(part.facts.staff.map(({ personId, email }) => [personId, email]))
    return changes.flatMap((change) => {
      if (change.kind !== 'notify') return []
      const { to: id, about } = change.notice
      const member = people.get(id)
      return [{ member, isStaff: id !== about, email: member ? member.email : (staff.get(id) ?? null) }]
    })
  })
  const students = to.filter(({ isStaff }) => !isStaff)
  if (to.length === 0) return 'The cover note has gone to all it is for.'
  const notes = (count: number) => `${count} cover ${count === 1 ? 'note' : 'notes'}`
  const copied = to.length > students.length ? ` The staff get ${notes(to.length - students.length)}.` : ''
  if (cover.by === 'here') return `${notes(students.length)} on their desks, beside the copy.${copied}`
  const without = students.filter(({ email }) => !email)
  const named = without.flatMap(({ member }) => (member ? [fullName(member)] : []))
  return `${notes(students.length - without.length)} by mail and on their desks.${
    without.length === 0
      ? ''
      : ` No e-mail, so only on the desk: ${named.slice(0, 5).join(', ')}${without.length > named.slice(0, 5).length ? ` and ${without.length - named.slice(0, 5).length} more` : ''}.`
  }${copied}`
}

function after({ pensDownAtDue, lateWork, remindBefore, classes }: Statement): string {
  if (classes.every(({ dueAt }) => dueAt === null))
    return 'No due time: it can be written in and submitted at any time.'
  const reminding = remindBefore ? ' A day before, whoever has not submitted is reminded by mail.' : ''
  if (pensDownAtDue)
    return (
      (lateWork
        ? 'After the due time nobody writes any more; what is there can still be submitted.'
        : 'After the due time nobody writes or submits any more.') + reminding
    )
  return `After the due time it can be written in and ${lateWork ? 'still' : 'not'} submitted.${reminding}`
}

/** What becomes of the places of others, in a copy that has some. */
const OTHERS_PLACES_PROOF: Readonly<Record<OthersPlaces, string>> = {
  read: 'whoever has a place of their own in it reads those of the others',
  'hidden until due': 'whoever has a place of their own in it sees those of the others once it is due',
  hidden: 'whoever has a place of their own in it does not see those of the others',
}

function peersInWords({ each, may, lookFor, until, named }: Peers): string {
  return [
    `${each} ${each === 1 ? 'peer reader reads' : 'peer readers read'} each${may === 'comment' ? ' and may comment' : ''}`,
    ...(until === null ? [] : [`until ${timeInWords(until)}`]),
    ...(lookFor.length === 0 ? [] : [`looking for “${lookFor.join('”, “')}”`]),
    ...(named ? [] : ['and the writer is not told who they are']),
  ].join(', ')
}
