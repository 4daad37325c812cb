import { type Exception, daysLater, listName, timesFor } from '@gavrin/core'
import { Button, Dropdown, Form } from 'react-bootstrap'
import { MomentField } from '../../ui/MomentField'
import { zoneOfTimes } from '../../ui/time'
import { Blank } from '../Blank'
import { type WholeProps, membersOf } from './slip'

/** How many days more an exception gives at first. */
const MORE = 2

/** Students with an opening or due time of their own. */
export function ExceptionsBlank({ statement, facts, change }: WholeProps) {
  const members = membersOf(facts)
  const byId = new Map(members.map((member) => [member.personId, member]))
  const { exceptions } = statement
  const only = exceptions.length === 1 ? byId.get(exceptions[0]!.personId) : undefined
  const words =
    exceptions.length === 0
      ? 'The same times for all students'
      : `Another time for ${only ? listName(only) : exceptions.length === 1 ? 'one student' : `${exceptions.length} students`}`
  const timesOf = (personId: string) => {
    const home = facts.parts.find((part) => part.facts.members.some((member) => member.personId === personId))
    return home && timesFor(statement, home.classId)
  }
  const put = (exception: Exception) =>
    change({
      ...statement,
      exceptions: exceptions.some(({ personId }) => personId === exception.personId)
        ? exceptions.map((other) => (other.personId === exception.personId ? exception : other))
        : [...exceptions, exception],
    })
  const drop = (personId: string) =>
    change({ ...statement, exceptions: exceptions.filter((other) => other.personId !== personId) })
  return (
    <Blank stays label={`Exceptions: ${words}`} value={words}>
      <div className="blank-list exceptions">
        {exceptions.map((exception) => {
          const { personId, opensAt, dueAt } = exception
          const member = byId.get(personId)
          const name = member ? listName(member) : 'No longer in the class'
          return (
            <fieldset key={personId} className="exception">
              <legend>
                <bdi>{name}</bdi>
                <Button variant="link" size="sm" aria-label={`As for all: ${name}`} onClick={() => drop(personId)}>
                  As for all
                </Button>
              </legend>
              <span>Opens</span>
              <MomentField
                what={`Opens for ${name}`}
                usual="08:00"
                at={opensAt}
                change={(moment) => put({ ...exception, opensAt: moment })}
              />
              <span>Due</span>
              <MomentField
                what={`Due for ${name}`}
                usual="16:00"
                at={dueAt}
                change={(moment) => put({ ...exception, dueAt: moment })}
              />
            </fieldset>
          )
        })}
        {exceptions.length > 0 && (
          <>
            <p className="soft">A day that is left empty is as for the class.</p>
            <Dropdown.Divider />
          </>
        )}
        <Form.Select
          size="sm"
          aria-label="Another time for"
          value=""
          onChange={({ target }) => {
            const personId = target.value
            const dueAt = timesOf(personId)?.dueAt ?? Date.now()
            if (personId) put({ personId, opensAt: null, dueAt: daysLater(dueAt, MORE, zoneOfTimes()) })
          }}
        >
          <option value="">Another time for …</option>
          {members
            .filter(({ personId }) => !exceptions.some((exception) => exception.personId === personId))
            .map((member) => (
              <option key={member.personId} value={member.personId}>
                {listName(member)}
              </option>
            ))}
        </Form.Select>
      </div>
    </Blank>
  )
}
