import { listName } from '@gavrin/core'
import { Blank, BlankChoice } from './Blank'
import { Fold } from './Fold'
import { Instructions } from './MoreLines'
import { ExceptionsBlank } from './blanks/ExceptionsBlank'
import { type WholeProps, membersOf } from './blanks/slip'
import type { ClassChoice } from './queries'

interface Props extends WholeProps {
  readonly classes: readonly ClassChoice[]
  readonly addClass: (classId: string) => void
}

/** What a handout is mostly left at: its classes, what holds after the due time, late joiners, exceptions, unit, instructions. */
export function SeldomLines(props: Props) {
  const { statement, facts, change, classes, addClass } = props
  const others = classes.filter(({ id }) => !facts.parts.some(({ classId }) => classId === id))
  const units = facts.parts[0]?.facts.units ?? []
  const { exceptions, unit, instructions } = statement
  const only = exceptions.length === 1 && membersOf(facts).find(({ personId }) => personId === exceptions[0]!.personId)
  const words = [
    ...(facts.parts.length === 1 ? [`for ${facts.parts[0]!.facts.className} only`] : []),
    `after the due time ${afterOf(statement).word}`,
    ...(statement.remindBefore ? ['who has not submitted is reminded a day before'] : []),
    `who joins later ${joinersWord(statement)}`,
    exceptions.length === 0
      ? 'the same times for all students'
      : `another time for ${only ? listName(only) : exceptions.length === 1 ? 'one student' : `${exceptions.length} students`}`,
    unit ? `in the unit ${unit.name}` : 'in no unit',
    instructions ? 'with instructions' : 'without instructions',
  ]
  return (
    <Fold label="And:" words={words}>
      <div className="sentence">
        {others.length > 0 && (
          <>
            Also for{' '}
            <Blank label="Another class" value="another class">
              {others.map(({ id, name, subject }) => (
                <BlankChoice key={id} chosen={false} choose={() => addClass(id)}>
                  {name} <span className="soft">{subject}</span>
                </BlankChoice>
              ))}
            </Blank>
            .{' '}
          </>
        )}
        After the due time <AfterBlank {...props} />. A day before, who has not submitted <RemindBlank {...props} />.
        Who joins later{' '}
        <Blank label={`Who joins later: ${joinersWord(statement)}`} value={joinersWord(statement)}>
          <BlankChoice
            chosen={statement.joiners === 'by themselves'}
            choose={() => change({ ...statement, joiners: 'by themselves' })}
          >
            gets theirs by itself{' '}
            <span className="soft">
              as soon as they are in the class or group; after the due time with one of their own, as long as the class
              had
            </span>
          </BlankChoice>
          <BlankChoice chosen={statement.joiners === 'wait'} choose={() => change({ ...statement, joiners: 'wait' })}>
            waits <span className="soft">under “Needs you” on your desk, until you hand out again</span>
          </BlankChoice>
        </Blank>
        . <ExceptionsBlank {...props} />. It is in{' '}
        <Blank label={`Unit: ${unit?.name ?? 'no unit'}`} value={<bdi>{unit?.name ?? 'no unit'}</bdi>}>
          <BlankChoice chosen={!unit} choose={() => change({ ...statement, unit: null })}>
            no unit
          </BlankChoice>
          {units.map(({ id, name }) => (
            <BlankChoice key={id} chosen={unit?.id === id} choose={() => change({ ...statement, unit: { id, name } })}>
              {name}
            </BlankChoice>
          ))}
          {units.length === 0 && (
            <div className="blank-empty">This class has no units yet: make them under Class, Set up.</div>
          )}
        </Blank>
        .
      </div>
      <Instructions {...props} />
    </Fold>
  )
}

/** Whether those who have not submitted are reminded by themselves. */
export const remindWord = ({ remindBefore }: Pick<WholeProps['statement'], 'remindBefore'>) =>
  remindBefore ? 'is reminded by mail' : 'is not reminded'

function RemindBlank({ statement, change }: WholeProps) {
  const word = remindWord(statement)
  return (
    <Blank label={`A day before it is due, who has not submitted: ${word}`} value={word}>
      {[false, true].map((remindBefore) => (
        <BlankChoice
          key={String(remindBefore)}
          chosen={statement.remindBefore === remindBefore}
          choose={() => change({ ...statement, remindBefore })}
        >
          {remindWord({ remindBefore })}{' '}
          <span className="soft">
            {remindBefore ? 'once, with what is missing and the link' : 'you can still do it on the board'}
          </span>
        </BlankChoice>
      ))}
    </Blank>
  )
}

export const joinersWord = ({ joiners }: Pick<WholeProps['statement'], 'joiners'>) =>
  joiners === 'wait' ? 'waits' : 'gets theirs by itself'

const AFTER = [
  { pensDownAtDue: false, lateWork: true, word: 'late work is taken', about: 'it is marked overdue' },
  {
    pensDownAtDue: true,
    lateWork: true,
    word: 'pens are down',
    about: 'nobody writes any more; what is there can still be submitted',
  },
  {
    pensDownAtDue: false,
    lateWork: false,
    word: 'nothing is submitted any more',
    about: 'it can be written in and not submitted',
  },
  {
    pensDownAtDue: true,
    lateWork: false,
    word: 'pens are down and nothing is submitted',
    about: 'it stands as it is',
  },
] as const

export const afterOf = ({ pensDownAtDue, lateWork }: Pick<WholeProps['statement'], 'pensDownAtDue' | 'lateWork'>) =>
  AFTER.find((after) => after.pensDownAtDue === pensDownAtDue && after.lateWork === lateWork)!

function AfterBlank({ statement, change }: WholeProps) {
  const chosen = afterOf(statement)
  return (
    <Blank label={`After the due time: ${chosen.word}`} value={chosen.word}>
      {AFTER.map((after) => (
        <BlankChoice
          key={after.word}
          chosen={after === chosen}
          choose={() => change({ ...statement, pensDownAtDue: after.pensDownAtDue, lateWork: after.lateWork })}
        >
          {after.word} <span className="soft">{after.about}</span>
        </BlankChoice>
      ))}
    </Blank>
  )
}
