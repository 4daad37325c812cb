import { useMutation } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import type { Answers } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { copiesInWords } from './words'

/** Something that was done with pens, and can be undone. */
export interface Acted {
  readonly id: string
  readonly words: string
}

/** What was just done, with the way back. */
export function ActedLine({
  acted,
  handoutId,
  close,
}: {
  readonly acted: Acted
  readonly handoutId: string
  readonly close: () => void
}) {
  const undo = useMutation({
    mutationFn: () =>
      api.post<Answers['POST handouts/{handoutId}/pens/{actId}/undo']>(`handouts/${handoutId}/pens/${acted.id}/undo`),
  })
  if (undo.data) {
    const { changes, changedSince } = undo.data
    return (
      <Notice kind="plain">
        Undone in {copiesInWords(changes.length)}.
        {changedSince.length > 0 &&
          ` ${copiesInWords(changedSince.length)} had been changed since and ${changedSince.length === 1 ? 'stays' : 'stay'} as ${changedSince.length === 1 ? 'it is' : 'they are'}.`}{' '}
        <Button variant="link" onClick={close}>
          Close
        </Button>
      </Notice>
    )
  }
  return (
    <Notice kind={undo.error ? 'bad' : 'plain'}>
      {undo.error ? sentenceOf(undo.error) : acted.words}{' '}
      {!undo.error && (
        <Button variant="link" disabled={undo.isPending} onClick={() => undo.mutate()}>
          Undo
        </Button>
      )}{' '}
      <Button variant="link" onClick={close}>
        Close
      </Button>
    </Notice>
  )
}
