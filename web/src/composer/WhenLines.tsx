import { type ClassTimes, timesFor } from '@gavrin/core'
import { Button } from 'react-bootstrap'
import { TimeBlank } from './blanks/TimeBlank'
import type { WholeProps } from './blanks/slip'

interface Props extends WholeProps {
  readonly removeClass: (classId: string) => void
}

/** When a handout opens and is due, in each of its classes. */
export function WhenLines({ statement, facts, change, removeClass }: Props) {
  const several = facts.parts.length > 1
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
    </div>
  )
}
