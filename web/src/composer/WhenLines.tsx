import { type ClassTimes, timesFor } from '@gavrin/core'
import { Button } from 'react-bootstrap'
import { Blank, BlankChoice } from './Blank'
import { ExceptionsBlank } from './blanks/ExceptionsBlank'
import { TimeBlank } from './blanks/TimeBlank'
import type { WholeProps } from './blanks/slip'
import type { ClassChoice } from './queries'

interface Props extends WholeProps {
  readonly classes: readonly ClassChoice[]
  readonly addClass: (classId: string) => void
  readonly removeClass: (classId: string) => void
}

/** When a handout opens and is due, in each of its classes, and what holds after that. */
export function WhenLines(props: Props) {
  const { statement, facts, change, classes, addClass, removeClass } = props
  const several = facts.parts.length > 1
  const others = classes.filter(({ id }) => !facts.parts.some(({ classId }) => classId === id))
  const alter = (times: ClassTimes) =>
    change({
      ...statement,
      classes: statement.classes.map((other) => (other.classId === times.classId ? times : other)),
    })
  return (
    <div className="when">
      {facts.parts.map(({ classId, facts: { className }, handedOutAt }, at) => {
        const times = timesFor(statement, classId)
        const of = several ? ` for ${className}` : ''
        return (
          <div className="sentence" key={classId}>
            {several && (
              <>
                <strong className="fixed">
                  <bdi>{className}</bdi>
                </strong>
                :{' '}
              </>
            )}
            {several ? 'open' : 'Open'}{' '}
            <TimeBlank
              what={`Open${of}`}
              at={times.opensAt}
              none="at once"
              usual="08:00"
              change={(opensAt) => alter({ ...times, opensAt })}
            />
            , due{' '}
            <TimeBlank
              what={`Due${of}`}
              at={times.dueAt}
              none="at no set time"
              usual="16:00"
              change={(dueAt) => alter({ ...times, dueAt })}
            />
            .{' '}
            {several && at > 0 && handedOutAt === null && (
              <Button variant="link" size="sm" onClick={() => removeClass(classId)}>
                Not for <bdi>{className}</bdi>
              </Button>
            )}
          </div>
        )
      })}
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
        After the due time <AfterBlank {...props} />. Who joins later{' '}
        <Blank
          label={`Who joins later: ${statement.joiners === 'wait' ? 'waits' : 'gets theirs by itself'}`}
          value={statement.joiners === 'wait' ? 'waits' : 'gets theirs by itself'}
        >
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
        . <ExceptionsBlank {...props} />.
      </div>
    </div>
  )
}

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

function AfterBlank({ statement, change }: WholeProps) {
  const chosen = AFTER.find(
    ({ pensDownAtDue, lateWork }) => pensDownAtDue === statement.pensDownAtDue && lateWork === statement.lateWork,
  )!
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
