import { type HandoutItem, type PlanFacts, type PlanMember, type Statement, listName, isFound } from '@gavrin/core'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { FindField } from '../ui/FindField'
import { fieldsOf, fromFields, timeInWords } from '../ui/time'
import { Blank, BlankChoice } from './Blank'
import { PatternField } from './PatternField'

interface Props {
  readonly statement: Statement
  readonly facts: PlanFacts
  readonly change: (statement: Statement) => void
}

/** The slip: one sentence with blanks that says what is given to whom, how, called what, due when. */
export function SlipSentence({ statement, facts, change }: Props) {
  const item = statement.items[0]!
  const alter = (alteration: Partial<HandoutItem>) =>
    change({ ...statement, items: [{ ...item, ...alteration }, ...statement.items.slice(1)] })
  return (
    <>
      <div className="slip">
        <p className="sentence">
          Give <WorksheetBlank item={item} facts={facts} alter={alter} /> to{' '}
          <AudienceBlank item={item} facts={facts} alter={alter} /> as <strong className="fixed">one each</strong>. They
          may{' '}
          <Blank
            label={`They may: ${item.holdersMay === 'edit' ? 'edit' : 'only read'}`}
            value={item.holdersMay === 'edit' ? 'edit' : 'only read'}
          >
            <BlankChoice chosen={item.holdersMay === 'edit'} choose={() => alter({ holdersMay: 'edit' })}>
              edit <span className="soft">write in the answer spaces and submit</span>
            </BlankChoice>
            <BlankChoice chosen={item.holdersMay === 'view'} choose={() => alter({ holdersMay: 'view' })}>
              only read <span className="soft">nothing can be written</span>
            </BlankChoice>
          </Blank>
          ; classmates do not see it. Call it{' '}
          <PatternField pattern={item.pattern} change={(pattern) => alter({ pattern })} />
        </p>
        <EditionNote item={item} facts={facts} alter={alter} />
      </div>
      <p className="sentence when">
        Due <DueBlank dueAt={statement.dueAt} change={(dueAt) => change({ ...statement, dueAt })} />.
      </p>
    </>
  )
}

interface BlankProps {
  readonly item: HandoutItem
  readonly facts: PlanFacts
  readonly alter: (alteration: Partial<HandoutItem>) => void
}

function WorksheetBlank({ item, facts, alter }: BlankProps) {
  const [find, setFind] = useState('')
  const chosen = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const shown = facts.worksheets.filter(({ title }) => isFound(title, find))
  return (
    <Blank
      label={`Worksheet: ${chosen?.title ?? 'not chosen'}`}
      value={chosen ? <bdi>{chosen.title}</bdi> : 'a worksheet'}
      open={!chosen}
    >
      {facts.worksheets.length > 6 && (
        <div className="blank-find">
          <FindField label="Find a worksheet" value={find} change={setFind} />
        </div>
      )}
      {shown.map((worksheet) => {
        const newest = worksheet.editions.at(-1)
        return (
          <BlankChoice
            key={worksheet.id}
            chosen={worksheet.id === item.worksheetId}
            choose={() => alter({ worksheetId: worksheet.id, edition: newest?.number ?? null })}
          >
            {worksheet.title}{' '}
            <span className="soft">
              {newest
                ? `edition ${newest.number}, ${newest.answerSpaces} answer ${newest.answerSpaces === 1 ? 'space' : 'spaces'}`
                : 'no edition kept yet'}
            </span>
          </BlankChoice>
        )
      })}
      {facts.worksheets.length === 0 && (
        <div className="blank-empty">
          You have no worksheets yet. <Link to="/worksheets">Write one</Link>
        </div>
      )}
    </Blank>
  )
}

function EditionNote({ item, facts, alter }: BlankProps) {
  const worksheet = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const newest = worksheet?.editions.at(-1)
  if (!worksheet || item.edition === null) return null
  return (
    <p className="slip-note">
      Edition {item.edition}.{' '}
      {newest && newest.number > item.edition ? (
        <button type="button" className="btn btn-link btn-sm" onClick={() => alter({ edition: newest.number })}>
          Edition {newest.number} is newer: give that
        </button>
      ) : (
        <Link to={`/worksheets/${worksheet.id}`}>Open the worksheet</Link>
      )}
    </p>
  )
}

function AudienceBlank({ item, facts, alter }: BlankProps) {
  const [find, setFind] = useState('')
  const { audience } = item
  const all = facts.members.map(({ personId }) => personId)
  const chosen = new Set(audience.kind === 'all' ? all : audience.personIds)
  const there = facts.members.filter(({ personId }) => chosen.has(personId)).length
  const words =
    audience.kind === 'all'
      ? `all of ${facts.className}`
      : there === 1
        ? listName(facts.members.find(({ personId }) => chosen.has(personId))!)
        : `${there} of ${facts.className}`
  const toggle = ({ personId }: PlanMember, on: boolean) => {
    const next = all.filter((id) => (id === personId ? on : chosen.has(id)))
    alter({ audience: next.length === all.length ? { kind: 'all' } : { kind: 'some', personIds: next } })
  }
  return (
    <Blank stays label={`To whom: ${words}`} value={<bdi>{words}</bdi>} open={there === 0}>
      <div className="blank-find">
        <FindField label="Find a student" value={find} change={setFind} />
      </div>
      <div className="blank-acts">
        <button type="button" className="btn btn-link btn-sm" onClick={() => alter({ audience: { kind: 'all' } })}>
          All
        </button>
        <button
          type="button"
          className="btn btn-link btn-sm"
          onClick={() => alter({ audience: { kind: 'some', personIds: [] } })}
        >
          Nobody
        </button>
        <span className="soft">
          {there} of {all.length}
        </span>
      </div>
      <div className="blank-list">
        {facts.members
          .filter((member) => isFound(listName(member), find))
          .slice(0, 400)
          .map((member) => (
            <Form.Check
              key={member.personId}
              id={`audience-${member.personId}`}
              label={<bdi>{listName(member)}</bdi>}
              checked={chosen.has(member.personId)}
              onChange={({ target }) => toggle(member, target.checked)}
            />
          ))}
      </div>
    </Blank>
  )
}

function DueBlank({ dueAt, change }: { dueAt: number | null; change: (dueAt: number | null) => void }) {
  const fields = dueAt === null ? { date: '', time: '16:00' } : fieldsOf(dueAt)
  const [typed, setTyped] = useState(fields)
  const set = (next: { date: string; time: string }) => {
    setTyped(next)
    const at = fromFields(next.date, next.time)
    if (at !== null && next.date) change(at)
  }
  return (
    <Blank
      stays
      label={`Due: ${dueAt === null ? 'at no set time' : timeInWords(dueAt)}`}
      value={dueAt === null ? 'at no set time' : timeInWords(dueAt)}
    >
      <div className="due-fields">
        <Form.Group controlId="due-date">
          <Form.Label>Day</Form.Label>
          <Form.Control
            size="sm"
            type="date"
            value={typed.date}
            onChange={({ target }) => set({ ...typed, date: target.value })}
          />
        </Form.Group>
        <Form.Group controlId="due-time">
          <Form.Label>Time</Form.Label>
          <Form.Control
            size="sm"
            type="time"
            value={typed.time}
            onChange={({ target }) => set({ ...typed, time: target.value })}
          />
        </Form.Group>
      </div>
      <BlankChoice chosen={dueAt === null} choose={() => change(null)}>
        at no set time
      </BlankChoice>
    </Blank>
  )
}
