import type { Named } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { type Student, rosterKey, useClasses } from '../class/queries'
import { api } from '../ui/api'

interface Props {
  readonly people: readonly Named[]
  readonly change: (people: readonly Named[]) => void
}

/** The people that a section is reserved for, chosen from a class. */
export function PeopleSetting({ people, change }: Props) {
  const [classId, setClassId] = useState('')
  const classes = useClasses()
  const roster = useQuery({
    queryKey: rosterKey(classId),
    queryFn: () => api.get<Student[]>(`classes/${classId}/roster`),
    enabled: classId !== '',
  })
  const left = (roster.data ?? []).filter(
    ({ personId, leftAt }) => leftAt === null && !people.some(({ id }) => id === personId),
  )
  return (
    <fieldset className="people-setting">
      <legend>For whom</legend>
      <ul>
        {people.map(({ id, name }) => (
          <li key={id}>
            <bdi>{name}</bdi>
            <Button
              size="sm"
              variant="link"
              aria-label={`Remove ${name}`}
              onClick={() => change(people.filter((person) => person.id !== id))}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <Form.Select size="sm" aria-label="Class" value={classId} onChange={({ target }) => setClassId(target.value)}>
        <option value="">from which class …</option>
        {classes.data?.map(({ id, name, subject }) => (
          <option key={id} value={id}>
            {name}, {subject}
          </option>
        ))}
      </Form.Select>
      {classId && (
        <Form.Select
          size="sm"
          aria-label="Student"
          value=""
          onChange={({ target }) => {
            const chosen = left.find(({ personId }) => personId === target.value)
            if (chosen)
              change([...people, { id: chosen.personId, name: [chosen.first, chosen.last].filter(Boolean).join(' ') }])
          }}
        >
          <option value="">add a student …</option>
          {left.map(({ personId, first, last }) => (
            <option key={personId} value={personId}>
              {[first, last].filter(Boolean).join(' ')}
            </option>
          ))}
        </Form.Select>
      )}
    </fieldset>
  )
}
