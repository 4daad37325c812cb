import { fullName } from '@gavrin/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { OfficePerson } from './personRecord'
import type { Answers } from '../contract'

export type Pair = readonly [keep: OfficePerson, other: OfficePerson]

type Found = Answers['GET office/doubles']

/** Who may be in the school twice; asked for apart from the list, which does not wait for it. */
export const useDoubles = () =>
  useQuery({ queryKey: ['office', 'doubles'], queryFn: () => api.get<Found>('office/doubles') })

interface Props {
  readonly found: Found
  readonly look: (pair: Pair) => void
}

/** Pairs who may be one person: to be looked at and merged, or said to be two, which is remembered. */
export function Doubles({ found: { pairs, more }, look }: Props) {
  const client = useQueryClient()
  const [apart, setApart] = useState<Pair | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const tell = async (pair: Pair, isApart: boolean) => {
    const path = `office/different/${pair[0].personId}/${pair[1].personId}`
    setProblem(null)
    try {
      await (isApart ? api.put(path, {}) : api.delete(path))
      setApart(isApart ? pair : null)
      await client.invalidateQueries({ queryKey: ['office', 'doubles'] })
    } catch (error) {
      setProblem(sentenceOf(error))
    }
  }
  const namesOf = ([one, other]: Pair) => (
    <>
      <bdi>{fullName(one)}</bdi> <span className="soft">{one.classes || one.email || 'in no class'}</span> and{' '}
      <bdi>{fullName(other)}</bdi> <span className="soft">{other.classes || other.email || 'in no class'}</span>
    </>
  )
  return (
    <div className="doubles">
      {apart && (
        <Notice kind="plain">
          {namesOf(apart)} are two people: this is remembered.{' '}
          <Button size="sm" variant="link" onClick={() => void tell(apart, false)}>
            Undo
          </Button>
        </Notice>
      )}
      {problem && <Notice kind="bad">{problem}</Notice>}
      <ul>
        {pairs.map((pair) => (
          <li key={`${pair[0].personId} ${pair[1].personId}`}>
            {namesOf(pair)}{' '}
            <span className="double-acts">
              <Button size="sm" variant="outline-dark" onClick={() => look(pair)}>
                Look at the two
              </Button>
              <Button
                size="sm"
                variant="link"
                aria-label={`${fullName(pair[0])} and ${fullName(pair[1])} are two people`}
                onClick={() => void tell(pair, true)}
              >
                These are two people
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {pairs.length === 0 && !apart && <p className="soft">Nobody looks like being there twice.</p>}
      {more > 0 && <p className="soft">and {more} more, shown as these are settled.</p>}
    </div>
  )
}
