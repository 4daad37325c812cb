import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Modal } from 'react-bootstrap'
import { CopyLine } from '../ui/CopyLine'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { Answers } from '../contract'

type Kept = Answers['GET account/calendar']

const KEY = ['calendar']

/** The address under which a calendar reads one's due times: made, made anew, and taken away. */
export default function CalendarDialog({ close }: { readonly close: () => void }) {
  const client = useQueryClient()
  const kept = useQuery({ queryKey: KEY, queryFn: () => api.get<Kept>('account/calendar') })
  const renew = useMutation({
    mutationFn: () => api.post<Kept>('account/calendar'),
    onSuccess: (now) => client.setQueryData(KEY, now),
  })
  const drop = useMutation({
    mutationFn: () => api.delete<void>('account/calendar'),
    onSuccess: () => client.setQueryData(KEY, { address: null } satisfies Kept),
  })
  const isBusy = renew.isPending || drop.isPending
  const problem = renew.error ?? drop.error
  return (
    <Modal show onHide={close} centered animation={false} aria-labelledby="calendar-dialog">
      <Modal.Header closeButton>
        <Modal.Title id="calendar-dialog">Due times in my calendar</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Loaded query={kept}>
          {({ address }) =>
            address === null ? (
              <>
                <p>
                  Gavrin can give you an address that the calendar on your phone or computer reads by itself: when
                  something is due, and what. Who has the address can read that, and nothing else.
                </p>
                <Button onClick={() => renew.mutate()} disabled={isBusy}>
                  Make an address
                </Button>
              </>
            ) : (
              <>
                <p>Give this address to your calendar, where it adds a calendar from the web. Keep it to yourself.</p>
                <CopyLine label="Address of my calendar" text={address} />
                <p className="mt-3">
                  <Button size="sm" variant="outline-dark" onClick={() => renew.mutate()} disabled={isBusy}>
                    New address (the old one stops working)
                  </Button>{' '}
                  <Button size="sm" variant="link" onClick={() => drop.mutate()} disabled={isBusy}>
                    No address any more
                  </Button>
                </p>
              </>
            )
          }
        </Loaded>
        {problem && <Notice kind="bad">{sentenceOf(problem)}</Notice>}
      </Modal.Body>
    </Modal>
  )
}
