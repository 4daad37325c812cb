import { type Carry, type Meeting, type WholeProof, fullName, meetingKey, baseAddress } from '@gavrin/core'
import { Form } from 'react-bootstrap'
import { Blank, BlankChoice } from './Blank'
import type { BlankProps } from './blanks/slip'
import type { SlipPart } from './queries'

const WISHES: readonly { carry: Carry; word: string; about: string }[] = [
  { carry: 'keep aside', word: 'kept aside', about: 'it can be read there, and brought back' },
  {
    carry: 'give to writer',
    word: 'given to the one who wrote it',
    about: 'it stands in their new copy, and aside too; what several wrote, each gets',
  },
  {
    carry: 'give all',
    word: 'given on, several under each other',
    about: 'the same; where passages of several meet, they stand under each other with their names',
  },
]

interface Props extends Pick<BlankProps, 'item' | 'alter'> {
  readonly proof: WholeProof<SlipPart>
}

/** Where copies with writing in them would give way to others: what becomes of it. */
export function CarryNote({ item, alter, proof }: Props) {
  const aside = proof.parts.reduce((sum, { part, changes }) => {
    const gone = new Set(changes.flatMap(({ kind, slotKey }) => (kind === 'set aside' ? [slotKey] : [])))
    const written = part.existing.copies.filter(
      (copy) => copy.itemId === item.id && gone.has(copy.slotKey) && Object.keys(copy.written).length > 0,
    )
    return sum + written.length
  }, 0)
  if (aside === 0) return null
  const wish = WISHES.find(({ carry }) => carry === item.carry)!
  const meetings = proof.parts.flatMap(({ part, plan, over }) => {
    const titles = new Map(
      plan.copies.flatMap(({ slotKey, itemId, title }) => (itemId === item.id ? [[slotKey, title]] : [])),
    )
    const order = Object.keys(part.existing.asked ?? {})
    const placeOf = ({ toSpace }: Meeting) => order.indexOf(baseAddress(toSpace).base)
    return over.meetings
      .flatMap((meeting) => {
        const title = titles.get(meeting.slotKey)
        return title === undefined ? [] : [{ part, meeting, title }]
      })
      .toSorted((a, b) => a.title.localeCompare(b.title) || placeOf(a.meeting) - placeOf(b.meeting))
  })
  return (
    <div className="carry-note">
      {aside} {aside === 1 ? 'copy with writing in it is' : 'copies with writing in them are'} set aside. What was
      written is{' '}
      <Blank label={`What was written: ${wish.word}`} value={wish.word}>
        {WISHES.map(({ carry, word, about }) => (
          <BlankChoice key={carry} chosen={item.carry === carry} choose={() => alter({ carry, carryChosen: {} })}>
            {word} <span className="soft">{about}</span>
          </BlankChoice>
        ))}
      </Blank>
      .
      {meetings.length > 0 && (
        <>
          {' '}
          {meetings.length === 1 ? 'One answer space has' : `${meetings.length} answer spaces have`} several answers to
          take:{' '}
          <Blank
            stays
            label={`Which of several answers goes along: ${goesInWords(meetings.map((one) => one.meeting))}`}
            value={goesInWords(meetings.map((one) => one.meeting))}
          >
            <div className="blank-list meetings">
              {meetings.map((one) => (
                <MeetingChoice
                  key={`${one.part.classId} ${meetingKey(one.meeting)}`}
                  {...one}
                  item={item}
                  alter={alter}
                />
              ))}
            </div>
          </Blank>
          .
        </>
      )}
    </div>
  )
}

function goesInWords(meetings: readonly Meeting[]): string {
  const all = meetings.filter(({ goes }) => goes === 'all').length
  const none = meetings.filter(({ goes }) => goes === 'none').length
  const parts = [
    [all, 'all of them go'],
    [meetings.length - all - none, 'one of them goes'],
    [none, 'none goes'],
  ] as const
  const there = parts.filter(([count]) => count > 0)
  return there.length === 1 ? there[0]![1] : there.map(([count, word]) => `in ${count} ${word}`).join(', ')
}

function MeetingChoice({
  part,
  meeting,
  title,
  item,
  alter,
}: { part: SlipPart; meeting: Meeting; title: string } & Pick<BlankProps, 'item' | 'alter'>) {
  const names = new Map(part.facts.members.map((member) => [member.personId, fullName(member)]))
  const key = meetingKey(meeting)
  const asked = part.existing.asked?.[baseAddress(meeting.toSpace).base]?.label ?? ''
  const { goes } = meeting
  return (
    <Form.Group controlId={`meeting-${key}`.replaceAll(/[^\w-]/g, '-')}>
      <Form.Label>
        <strong>
          <bdi>{title}</bdi>
        </strong>
        {asked && (
          <span className="soft">
            {' '}
            <bdi>{asked}</bdi>
          </span>
        )}
      </Form.Label>
      <Form.Select
        size="sm"
        value={typeof goes === 'string' ? goes : goes.from}
        onChange={({ target }) => alter({ carryChosen: { ...item.carryChosen, [key]: target.value } })}
      >
        <option value="none">none: all stay in the copies set aside</option>
        {meeting.canAll && <option value="all">all, under each other with their names</option>}
        {meeting.sources.map(({ from, by }) => (
          <option key={from} value={from}>
            {by.map((id) => names.get(id) ?? 'somebody').join(', ')}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  )
}
