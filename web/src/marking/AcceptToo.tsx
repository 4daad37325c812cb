import { fullName } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { MarkedCopy } from './queries'

type Proof = Answers['POST handouts/{handoutId}/answers/{worksheetId}/{space}/accepted/proof']

interface Props {
  readonly handoutId: string
  readonly worksheetId: string
  readonly spaceId: string
  /** What is accepted beside the key now, and what is to be. */
  readonly was: readonly string[]
  readonly texts: readonly string[]
  readonly copies: readonly MarkedCopy[]
  readonly isNamed: boolean
  readonly close: () => void
}

/** Answers accepted beside the key: in which copies that changes whether an answer is right, before it is done. */
export function AcceptToo({ handoutId, worksheetId, spaceId, was, texts, copies, isNamed, close }: Props) {
  const client = useQueryClient()
  const path = `handouts/${handoutId}/answers/${worksheetId}/${encodeURIComponent(spaceId)}/accepted`
  const proof = useQuery({
    queryKey: ['accepted proof', path, texts],
    queryFn: () => api.post<Proof>(`${path}/proof`, { texts: [...texts] }),
    ...{ staleTime: 0, gcTime: 0 },
  })
  const accept = useMutation({
    mutationFn: () =>
      api.put(path, {
        ...{ texts: [...texts], was: [...was] },
      } satisfies Bodies['PUT handouts/{handoutId}/answers/{worksheetId}/{space}/accepted']),
    onSuccess: close,
    // What is proposed follows from it, in every copy.
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ['board', handoutId] }),
        client.invalidateQueries({ queryKey: ['copy'] }),
      ]),
  })
  const byId = new Map(copies.map((copy) => [copy.copyId, copy]))
  const changes = proof.data?.changes ?? []
  const toRight = changes.filter(({ right }) => right).length
  const withPoints = changes.filter(({ copyId, of }) =>
    Object.keys(byId.get(copyId)?.parts.spaces ?? {}).some(
      (address) => address === spaceId || (of !== null && address === `${spaceId}_${of}`),
    ),
  ).length
  const names = changes.map(({ copyId }) => byId.get(copyId)?.holders.map(fullName).join(', ')).filter(Boolean)
  const trouble = accept.error ?? proof.error
  return (
    <div className="accept-too" role="group" aria-label="What is accepted too">
      {proof.data && (
        <p>
          {changes.length === 0
            ? 'It changes no answer.'
            : [
                toRight > 0 && `${toRight} ${toRight === 1 ? 'answer becomes' : 'answers become'} right`,
                changes.length > toRight && `${changes.length - toRight} no longer right`,
              ]
                .filter(Boolean)
                .join(', ')}
          {changes.length > 0 && isNamed && (
            <>
              : <bdi>{names.join('; ')}</bdi>
            </>
          )}
          {changes.length > 0 && '.'}{' '}
          {withPoints > 0 &&
            `${withPoints === 1 ? 'One has' : `${withPoints} have`} points already, which stay as they are.`}{' '}
          <span className="soft">It holds in this handout; the worksheet stays as it is.</span>
        </p>
      )}
      {trouble && <Notice kind="bad">{sentenceOf(trouble)}</Notice>}
      <Button size="sm" disabled={!proof.data || accept.isPending} onClick={() => accept.mutate()}>
        {texts.length < was.length ? 'Accept it no longer' : 'Accept'}
      </Button>{' '}
      <Button size="sm" variant="link" onClick={close}>
        Cancel
      </Button>
    </div>
  )
}
