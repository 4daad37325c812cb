import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import type { Answers } from '../contract'
import { api, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { copiesInWords } from './words'

type Act = Answers['GET handouts/{handoutId}/pens'][number]

const inWords = ({ act, minutes, copies }: Act): string => {
  const of = copiesInWords(copies)
  if (act === 'up') return `Pens up in ${of}`
  return act === 'down' ? `Pens down in ${of}` : `Pens down after ${minutes} min in ${of}`
}

/** What was done with the pens of a handout, each with its undo. */
export function PensLog({ handoutId }: { readonly handoutId: string }) {
  const client = useQueryClient()
  const queryKey = ['pens', handoutId]
  const { data } = useQuery({
    queryKey,
    queryFn: () => api.get<Act[]>(`handouts/${handoutId}/pens`),
  })
  const undo = useMutation({
    mutationFn: (id: string) =>
      api.post<Answers['POST handouts/{handoutId}/pens/{actId}/undo']>(`handouts/${handoutId}/pens/${id}/undo`),
    onSettled: () => client.invalidateQueries({ queryKey }),
  })
  if (!data?.length) return null
  const since = undo.data?.changedSince.length ?? 0
  return (
    <details className="pens-log">
      <summary>What was done before, {data.length}</summary>
      <ul>
        {data.map((act) => (
          <li key={act.id}>
            <span title={exactTime(act.at)}>{timeInWords(act.at)}</span> {inWords(act)}, <bdi>{act.by}</bdi>{' '}
            {act.undoneAt !== null ? (
              <span className="soft">
                undone {timeInWords(act.undoneAt)}
                {act.undoneBy && (
                  <>
                    , <bdi>{act.undoneBy}</bdi>
                  </>
                )}
              </span>
            ) : (
              <Button size="sm" variant="link" disabled={undo.isPending} onClick={() => undo.mutate(act.id)}>
                Undo
              </Button>
            )}
          </li>
        ))}
      </ul>
      {since > 0 && (
        <p className="soft" role="status">
          {copiesInWords(since)} had been changed since and {since === 1 ? 'stays as it is' : 'stay as they are'}.
        </p>
      )}
      {undo.error && (
        <p className="bad" role="alert">
          {sentenceOf(undo.error)}
        </p>
      )}
    </details>
  )
}
