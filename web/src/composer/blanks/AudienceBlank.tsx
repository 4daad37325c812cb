import { type Audience, type PlanMember, type Ref, audienceOf, findRef, isFound, listName } from '@gavrin/core'
import { useState } from 'react'
import { Dropdown, Form } from 'react-bootstrap'
import { FindField } from '../../ui/FindField'
import { Blank } from '../Blank'
import {
  type BlankProps,
  classesInWords,
  columnsOf,
  groupSetsOf,
  groupsOf,
  isSameWord,
  membersOf,
  valuesOf,
  withChosen,
} from './slip'

const KINDS: readonly { kind: Audience['kind']; word: string }[] = [
  { kind: 'all', word: 'all' },
  { kind: 'some', word: 'some' },
  { kind: 'all but', word: 'all but' },
  { kind: 'column', word: 'by a column' },
  { kind: 'groups', word: 'by groups' },
]

/** Who an item is for. */
export function AudienceBlank(props: BlankProps) {
  const { item, facts, alter } = props
  const { audience } = item
  const members = membersOf(facts)
  const reached = facts.parts.flatMap((part) => {
    const found = audienceOf(item, { ...part.facts, worksheets: facts.worksheets })
    return found.ok ? found.members : []
  })
  const words = inWords(props, reached)
  const begin = (kind: Audience['kind']): Audience => {
    switch (kind) {
      case 'all':
        return { kind }
      case 'not said':
        return audience
      case 'some':
        return { kind, personIds: reached.map(({ personId }) => personId) }
      case 'all but': {
        const there = new Set(reached.map(({ personId }) => personId))
        return {
          kind,
          personIds: members.filter(({ personId }) => !there.has(personId)).map(({ personId }) => personId),
        }
      }
      case 'column': {
        const [column] = columnsOf(facts)
        return { kind, column: { id: column?.id ?? null, name: column?.name ?? '' }, values: [] }
      }
      case 'groups': {
        const [set] = groupSetsOf(facts)
        return { kind, set: { id: set?.id ?? null, name: set?.name ?? '' }, groups: [] }
      }
    }
  }
  const offered = KINDS.filter(
    ({ kind }) =>
      (kind !== 'column' || columnsOf(facts).length > 0) && (kind !== 'groups' || groupSetsOf(facts).length > 0),
  )
  return (
    <Blank stays label={`To whom: ${words}`} value={<bdi>{words}</bdi>} open={reached.length === 0}>
      <div className="blank-kinds" role="group" aria-label="Who">
        {offered.map(({ kind, word }) => (
          <button
            key={kind}
            type="button"
            className="btn btn-sm btn-outline-dark"
            aria-pressed={audience.kind === kind}
            onClick={() => audience.kind !== kind && alter({ audience: begin(kind) })}
          >
            {word}
          </button>
        ))}
      </div>
      {audience.kind === 'not said' && (
        <p className="blank-sum">
          {audience.was ? (
            <>
              It was for <bdi>{audience.was}</bdi> before. Choose who it is for here.
            </>
          ) : (
            'Choose who it is for.'
          )}
        </p>
      )}
      {audience.kind === 'all but' && <p className="blank-sum soft">Ticked: who is left out.</p>}
      {audience.kind === 'all but' ? (
        <PeopleList
          members={members}
          chosen={audience.personIds}
          choose={(personIds) => alter({ audience: { kind: 'all but', personIds } })}
        />
      ) : (
        (audience.kind === 'all' || audience.kind === 'some' || audience.kind === 'not said') && (
          <PeopleList
            members={members}
            chosen={(audience.kind === 'all' ? members : reached).map(({ personId }) => personId)}
            choose={(personIds) =>
              alter({
                audience: personIds.length === members.length ? { kind: 'all' } : { kind: 'some', personIds },
              })
            }
          />
        )
      )}
      {audience.kind === 'column' && (
        <ChoiceList
          of={columnsOf(facts)}
          ofLabel="Column"
          ofRef={audience.column}
          chooseOf={(column) => alter({ audience: { kind: 'column', column, values: [] } })}
          values={valuesOf(facts, audience.column)}
          chosen={audience.values}
          choose={(values) => alter({ audience: { ...audience, values } })}
        />
      )}
      {audience.kind === 'groups' && (
        <ChoiceList
          of={groupSetsOf(facts)}
          ofLabel="Group set"
          ofRef={audience.set}
          chooseOf={(set) => alter({ audience: { kind: 'groups', set, groups: [] } })}
          values={groupsOf(facts, audience.set)}
          chosen={audience.groups}
          choose={(groups) => alter({ audience: { ...audience, groups } })}
        />
      )}
      <Dropdown.Divider />
      <p className="blank-sum soft">
        {reached.length} of {members.length} students
      </p>
    </Blank>
  )
}

function inWords({ item: { audience }, facts }: BlankProps, reached: readonly PlanMember[]): string {
  const where = classesInWords(facts)
  switch (audience.kind) {
    case 'all':
      return `all of ${where}`
    case 'not said':
      return 'whom?'
    case 'some':
      return reached.length === 1 ? listName(reached[0]!) : `${reached.length} of ${where}`
    case 'all but': {
      const without = membersOf(facts).filter(({ personId }) => audience.personIds.includes(personId))
      if (without.length === 0) return `all of ${where}`
      return `all but ${without.length === 1 ? listName(without[0]!) : `${without.length} of ${where}`}`
    }
    case 'column':
      return audience.values.length
        ? `those in ${audience.values.join(', ')} (${audience.column.name})`
        : `those of a ${audience.column.name}`
    case 'groups':
      return audience.groups.length ? audience.groups.join(', ') : `groups of ${audience.set.name}`
  }
}

export function PeopleList({
  members,
  chosen,
  choose,
}: {
  members: readonly PlanMember[]
  chosen: readonly string[]
  choose: (personIds: string[]) => void
}) {
  const [find, setFind] = useState('')
  const ids = new Set(chosen)
  return (
    <>
      <div className="blank-find">
        <FindField label="Find a student" value={find} change={setFind} />
      </div>
      <div className="blank-acts">
        <button
          type="button"
          className="btn btn-link btn-sm"
          onClick={() => choose(members.map(({ personId }) => personId))}
        >
          All
        </button>
        <button type="button" className="btn btn-link btn-sm" onClick={() => choose([])}>
          Nobody
        </button>
      </div>
      <div className="blank-list">
        {members
          .filter((member) => isFound(listName(member), find))
          .slice(0, 400)
          .map((member) => (
            <Form.Check
              key={member.personId}
              id={`audience-${member.personId}`}
              label={<bdi>{listName(member)}</bdi>}
              checked={ids.has(member.personId)}
              onChange={({ target }) =>
                choose(
                  members
                    .map(({ personId }) => personId)
                    .filter((id) => (id === member.personId ? target.checked : ids.has(id))),
                )
              }
            />
          ))}
      </div>
    </>
  )
}

interface ChoiceListProps {
  readonly of: readonly { readonly id: string; readonly name: string }[]
  readonly ofLabel: string
  readonly ofRef: Ref
  readonly chooseOf: (ref: { id: string; name: string }) => void
  readonly values: readonly string[]
  readonly chosen: readonly string[]
  readonly choose: (values: string[]) => void
}

function ChoiceList({ of, ofLabel, ofRef, chooseOf, values, chosen, choose }: ChoiceListProps) {
  const known = findRef(of, ofRef)
  const shown = withChosen(values, chosen)
  return (
    <div className="blank-list">
      {(of.length > 1 || !known) && (
        <Form.Select
          size="sm"
          aria-label={ofLabel}
          value={known?.id ?? ''}
          onChange={({ target }) => {
            const found = of.find(({ id }) => id === target.value)
            if (found) chooseOf({ id: found.id, name: found.name })
          }}
        >
          {!known && <option value="">{ofRef.name} (not in this class)</option>}
          {of.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
      )}
      {shown.map((value) => (
        <Form.Check
          key={value}
          id={`audience-of-${value}`}
          label={
            <>
              <bdi>{value}</bdi>
              {!values.includes(value) && <span className="soft"> nobody here</span>}
            </>
          }
          checked={chosen.some((other) => isSameWord(other, value))}
          onChange={({ target }) =>
            choose(target.checked ? [...chosen, value] : chosen.filter((other) => !isSameWord(other, value)))
          }
        />
      ))}
      {shown.length === 0 && <p className="soft">Nothing stands there yet.</p>}
    </div>
  )
}
