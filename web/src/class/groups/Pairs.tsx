import { type GroupPair, fullName } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Student } from '../queries'

interface Props {
  readonly students: readonly Student[]
  readonly pairs: readonly GroupPair[]
  readonly change: (pairs: readonly GroupPair[]) => void
}

const EMPTY: GroupPair = { a: '', b: '', kind: 'apart' }

/** Who is to be together, and who apart, when groups are made. */
export function Pairs({ students, pairs, change }: Props) {
  const [adding, setAdding] = useState(false)
  const [entry, setEntry] = useState<GroupPair>(EMPTY)
  const nameOf = (id: string) => {
    const found = students.find(({ personId }) => personId === id)
    return found ? fullName(found) : 'somebody who left'
  }
  const person = (side: 'a' | 'b', label: string) => (
    <Form.Select
      size="sm"
      aria-label={label}
      value={entry[side]}
      onChange={({ target }) => setEntry({ ...entry, [side]: target.value })}
    >
      <option value="">choose</option>
      {students.map((student) => (
        <option key={student.personId} value={student.personId}>
          {fullName(student)}
        </option>
      ))}
    </Form.Select>
  )
  return (
    <div className="pairs">
      {(['apart', 'together'] as const).map((kind) => {
        const list = pairs.filter((pair) => pair.kind === kind)
        return list.length === 0 ? null : (
          <span key={kind}>
            Keep {kind}:{' '}
            {list.map(({ a, b }) => (
              <span key={`${a} ${b}`} className="pair">
                {nameOf(a)} and {nameOf(b)}
                <Button
                  size="sm"
                  variant="link"
                  aria-label={`Drop: ${nameOf(a)} and ${nameOf(b)}`}
                  onClick={() => change(pairs.filter((pair) => !(pair.a === a && pair.b === b)))}
                >
                  ×
                </Button>
              </span>
            ))}
          </span>
        )
      })}
      {adding ? (
        <span className="pair-entry">
          {person('a', 'First student')} and {person('b', 'Second student')}
          <Form.Select
            size="sm"
            aria-label="Together or apart"
            value={entry.kind}
            onChange={({ target }) => setEntry({ ...entry, kind: target.value as GroupPair['kind'] })}
          >
            <option value="apart">apart</option>
            <option value="together">together</option>
          </Form.Select>
          <Button
            size="sm"
            disabled={!entry.a || !entry.b || entry.a === entry.b}
            onClick={() => {
              const others = pairs.filter(({ a, b }) => !([a, b].includes(entry.a) && [a, b].includes(entry.b)))
              change([...others, entry])
              setEntry(EMPTY)
              setAdding(false)
            }}
          >
            Keep
          </Button>
          <Button size="sm" variant="link" onClick={() => setAdding(false)}>
            Cancel
          </Button>
        </span>
      ) : (
        <Button size="sm" variant="link" onClick={() => setAdding(true)}>
          Keep two together or apart
        </Button>
      )}
    </div>
  )
}
