import type { ChangeKind, UndoProof } from '@gavrin/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import type { Run } from './queries'
import type { Bodies } from '../contract'

const BECOMES: Record<Exclude<ChangeKind, 'notify'>, string> = {
  create: 'is made',
  'bring back': 'comes back',
  rename: 'has its former name',
  permit: 'has its former access',
  move: 'has its former worksheet or edition',
  date: 'has its former times',
  carry: 'takes answers along',
  'set aside': 'leaves the desk',
}

interface Props {
  readonly handoutId: string
  readonly several: boolean
  readonly undone: () => void
  readonly close: () => void
}

/** Shows what an undo does before it is done. */
export function UndoDialog({ handoutId, several, undone, close }: Props) {
  const query = useQuery({
    queryKey: ['undo', handoutId],
    queryFn: () => api.get<UndoProof>(`handouts/${handoutId}/undo`),
    gcTime: 0,
    staleTime: 0,
  })
  const undo = useMutation({
    mutationFn: (fingerprint: string) =>
      api.post<Run>(`handouts/${handoutId}/undo`, { fingerprint } satisfies Bodies['POST handouts/{handoutId}/undo']),
    onSuccess: undone,
    onError: (error) => {
      if (error instanceof ApiError && error.code === 'proof-changed') void query.refetch()
    },
  })
  return (
    <Modal show onHide={close} aria-labelledby="undo-title" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="undo-title">
          {query.data?.kind === 'undo' ? 'Take the undo back' : 'Undo the last hand-out'}
        </Modal.Title>
      </Modal.Header>
      <Loaded query={query}>
        {(proof) => (
          <>
            <Modal.Body>
              <UndoneCopies proof={proof} several={several} />
              {undo.error && <Notice kind="bad">{sentenceOf(undo.error)}</Notice>}
            </Modal.Body>
            <Modal.Footer>
              <Button disabled={undo.isPending} onClick={() => undo.mutate(proof.fingerprint)}>
                {undo.isPending ? 'Going back …' : actWords(proof.counts)}
              </Button>
              <Button variant="outline-dark" onClick={close}>
                Leave it as it is
              </Button>
            </Modal.Footer>
          </>
        )}
      </Loaded>
    </Modal>
  )
}

const copies = (count: number) => `${count} ${count === 1 ? 'copy' : 'copies'}`

function actWords({ make, change, aside }: UndoProof['counts']): string {
  const acts = [
    aside > 0 && `take ${copies(aside)} back`,
    change > 0 && `change ${aside > 0 ? change : copies(change)}`,
    make > 0 && `make ${aside + change > 0 ? make : copies(make)}`,
  ].filter((act) => act !== false)
  if (acts.length === 0) return 'Go back to the slip as it was'
  const words = acts.join(', ')
  return `${words[0]!.toUpperCase()}${words.slice(1)}`
}

const SHOWN = 60

function UndoneCopies({ proof, several }: { proof: UndoProof; several: boolean }) {
  const { counts, copies: rows, notes } = proof
  const [all, setAll] = useState(false)
  const leaving = rows.filter(({ becomes }) => becomes.includes('set aside'))
  const written = leaving.filter((copy) => copy.written).length
  const submitted = leaving.filter(({ state }) => state === 'submitted').length
  // Those with writing first: they are what somebody would look for.
  const sorted = rows.toSorted((a, b) => Number(b.written) - Number(a.written))
  return (
    <>
      <p>
        {proof.kind === 'undo' ? 'The undo' : 'The hand-out'} of {timeInWords(proof.at)}
        {proof.by && (
          <>
            {' '}
            by <bdi>{proof.by}</bdi>
          </>
        )}{' '}
        is taken back.{' '}
        {proof.isFirst
          ? 'Nothing was handed out before it: the slip stays, as a draft.'
          : 'The slip is again as it was handed out before.'}{' '}
        {rows.length === 0 && 'No copy changes by it: only what stands above them.'}
      </p>
      {counts.aside > 0 && (
        <p>
          <strong>
            {copies(counts.aside)} {counts.aside === 1 ? 'leaves' : 'leave'} the desks
          </strong>
          {written > 0
            ? `, ${written} of them with writing${submitted > 0 ? ` and ${submitted} submitted` : ''}. What was written is kept, and who wrote it finds it under “Set aside”.`
            : '. Nothing is written in them.'}
        </p>
      )}
      {counts.change > 0 && <p>{copies(counts.change)} become as they were before.</p>}
      {notes > 0 && (
        <p>
          {notes} cover {notes === 1 ? 'note has' : 'notes have'} gone out with it and cannot be called back.
        </p>
      )}
      <p className="soft">You can take this back the same way.</p>
      {rows.length > 0 && (
        <ul className="undo-list">
          {sorted
            .slice(0, all ? undefined : SHOWN)
            .map(({ copyId, title, className, becomes, written: has, state }) => (
              <li key={copyId}>
                <bdi>{title}</bdi>{' '}
                <span className="soft">
                  {several && <>{className}: </>}
                  {becomes.map((kind) => BECOMES[kind]).join(', ')}
                  {has && ` · ${state === 'submitted' ? 'submitted' : 'with writing'}`}
                </span>
              </li>
            ))}
          {!all && rows.length > SHOWN && (
            <li>
              <Button variant="link" size="sm" onClick={() => setAll(true)}>
                and {rows.length - SHOWN} more
              </Button>
            </li>
          )}
        </ul>
      )}
    </>
  )
}
