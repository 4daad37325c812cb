import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, ProgressBar } from 'react-bootstrap'
import type { Answers } from '../contract'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { FORMAT_NAMES } from './formats'
import './savedCopies.css'

type Saved = Answers['GET saved-copies'][number]

export const SAVED_KEY = ['saved copies'] as const
/** How often it is looked how far they are, in milliseconds. */
const LOOK = 1_000

const sizeInWords = (bytes: number) =>
  bytes < 1_000_000 ? `${Math.max(1, Math.round(bytes / 1_000))} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`

/** What one has saved of many copies, the newest first, or how far it is. */
export function SavedList({ empty }: { readonly empty: string }) {
  const client = useQueryClient()
  const saved = useQuery({
    queryKey: SAVED_KEY,
    queryFn: () => api.get<Saved[]>('saved-copies'),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data?.some(({ finishedAt }) => finishedAt === null) ? LOOK : false),
  })
  const drop = useMutation({
    mutationFn: (id: string) => api.delete(`saved-copies/${id}`),
    onSettled: () => client.invalidateQueries({ queryKey: SAVED_KEY }),
  })
  return (
    <Loaded query={saved}>
      {(all) => (
        <>
          {drop.error && <Notice kind="bad">{sentenceOf(drop.error)}</Notice>}
          {all.length === 0 && empty && <p className="soft">{empty}</p>}
          <ul className="saved-list">
            {all.map((one) => (
              <SavedLine key={one.id} one={one} drop={() => drop.mutate(one.id)} isGoing={drop.isPending} />
            ))}
          </ul>
        </>
      )}
    </Loaded>
  )
}

interface LineProps {
  readonly one: Saved
  readonly drop: () => void
  readonly isGoing: boolean
}

function SavedLine({ one, drop, isGoing }: LineProps) {
  const { id, title, format, total, done, failed, size, begunAt, finishedAt, until } = one
  const made = done - failed.length
  return (
    <li>
      <span className="saved-what">
        <bdi>{title}</bdi>, {FORMAT_NAMES[format]}{' '}
        <span className="soft" title={exactTime(begunAt)}>
          {timeInWords(begunAt)}
        </span>
      </span>
      {finishedAt === null ? (
        <>
          <ProgressBar now={done} max={total} className="saved-bar" aria-label={`${title}: saved so far`} />
          <span className="soft" role="status">
            {done} of {total}
          </span>
          <Button size="sm" variant="link" disabled={isGoing} onClick={drop}>
            Stop
          </Button>
        </>
      ) : (
        <>
          <span className="soft">
            {made} {made === 1 ? 'copy' : 'copies'}, {sizeInWords(size)}, here until {timeInWords(until!)}
          </span>
          {made > 0 && (
            <a className="btn btn-sm btn-outline-dark" href={`/api/saved-copies/${id}/file`} download>
              Fetch
            </a>
          )}
          <Button size="sm" variant="link" disabled={isGoing} onClick={drop}>
            Remove
          </Button>
        </>
      )}
      {failed.length > 0 && (
        <details className="saved-failed">
          <summary className="bad">{failed.length} could not be saved</summary>
          <ul>
            {failed.map(({ name, why }) => (
              <li key={name}>
                <bdi>{name}</bdi>: {why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </li>
  )
}
