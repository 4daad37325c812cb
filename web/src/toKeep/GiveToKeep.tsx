import type { KeepLine } from '@gavrin/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { copiesInWords } from '../pens/words'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import './toKeep.css'

type Proof = Answers['POST to-keep/proof']
type Wish = Omit<Bodies['POST to-keep/proof'], 'unfinished'>

interface Props {
  /** Of a handout, of a class, or what a student holds. */
  readonly of: Wish
  readonly close: () => void
}

/** A button that lets copies become their students' own. */
export function GiveToKeepButton({ of, small }: Pick<Props, 'of'> & { readonly small?: boolean }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <>
      <Button variant="outline-dark" {...(small && { size: 'sm' as const })} onClick={() => setOpen(true)}>
        Give to keep
      </Button>
      {isOpen && <GiveToKeep of={of} close={() => setOpen(false)} />}
    </>
  )
}

const WHY: Record<Exclude<KeepLine['is'], 'given'>, string> = {
  'not begun': 'not begun',
  'not submitted': 'not submitted',
  'no student': 'of guests, who have no desk',
  'given before': 'given before',
}

/** Lets copies become their students' own: who gets what and what is left out is said first; then all at once, with a way back. */
export function GiveToKeep({ of, close }: Props) {
  const [unfinished, setUnfinished] = useState(false)
  const wish = { ...of, unfinished } satisfies Bodies['POST to-keep/proof']
  const proof = useQuery({
    queryKey: ['to keep', wish],
    queryFn: () => api.post<Proof>('to-keep/proof', wish),
    placeholderData: (before) => before,
    staleTime: 0,
    gcTime: 0,
  })
  const give = useMutation({
    mutationFn: () =>
      api.post<Answers['POST to-keep']>('to-keep', {
        ...wish,
        fingerprint: proof.data!.fingerprint,
      } satisfies Bodies['POST to-keep']),
    onError: () => proof.refetch(),
  })
  const lines = proof.data?.lines ?? []
  const count = given(lines)
  return (
    <Modal show onHide={close} size="lg" aria-labelledby="to-keep-title">
      <Modal.Header closeButton>
        <Modal.Title id="to-keep-title">Give to keep</Modal.Title>
      </Modal.Header>
      {give.data ? (
        <Given given={give.data} close={close} />
      ) : (
        <>
          <Modal.Body>
            <p>
              Each student gets a copy of their own, as it is now: it stays on their desk under “Kept”, also when the
              class has ended. They can write on in it and save it; only they see it. The class keeps its copies as they
              are.
            </p>
            <Form.Check
              id="keep-unfinished"
              className="mb-3"
              label="also what is worked in and not submitted"
              checked={unfinished}
              onChange={({ target }) => setUnfinished(target.checked)}
            />
            {proof.isPending && <p className="loading">One moment …</p>}
            {proof.error && <Notice kind="bad">{sentenceOf(proof.error)}</Notice>}
            {proof.data && lines.length === 0 && <p>There are no copies that could be given to keep.</p>}
            {byHandout(lines).map(([id, some]) => (
              <OfHandout key={id} lines={some} isOpen={lines.length === some.length} />
            ))}
            {give.error && <Notice kind="bad">{sentenceOf(give.error)}</Notice>}
          </Modal.Body>
          <Modal.Footer>
            <Button
              disabled={count === 0 || give.isPending || proof.isFetching || proof.isPlaceholderData}
              onClick={() => give.mutate()}
            >
              Give {copiesInWords(count)} to keep
            </Button>
          </Modal.Footer>
        </>
      )}
    </Modal>
  )
}

type Line = Proof['lines'][number]

const given = (lines: readonly Line[]) =>
  lines.reduce((sum, { is, names }) => sum + (is === 'given' ? names.length : 0), 0)

function byHandout(lines: readonly Line[]): [string, Line[]][] {
  const found = new Map<string, Line[]>()
  for (const line of lines) {
    const some = found.get(line.handoutId)
    if (some) some.push(line)
    else found.set(line.handoutId, [line])
  }
  return [...found]
}

/** Of one handout: how many are given, and to whom; how many are left out, whose they are and why. */
function OfHandout({ lines, isOpen }: { readonly lines: readonly Line[]; readonly isOpen: boolean }) {
  const { number, handout } = lines[0]!
  const count = given(lines)
  const groups = (['given', 'not submitted', 'not begun', 'no student', 'given before'] as const)
    .map((is) => ({ is, some: lines.filter((line) => line.is === is) }))
    .filter(({ some }) => some.length > 0)
  return (
    <details className="keep-handout" open={isOpen}>
      <summary>
        <span>
          No. {number} <bdi>{handout}</bdi>
        </span>
        <span className={count > 0 ? '' : 'soft'}>{count > 0 ? `${copiesInWords(count)} to keep` : 'none'}</span>
      </summary>
      <dl>
        {groups.map(({ is, some }) => (
          <div key={is}>
            <dt className={is === 'given' ? '' : 'soft'}>{is === 'given' ? 'get it' : `${WHY[is]}: ${some.length}`}</dt>
            <dd className={is === 'given' ? '' : 'soft'}>
              {some.map(({ copyId, names }, at) => (
                <span key={copyId}>
                  {at > 0 && ' · '}
                  <bdi>{names.join(', ')}</bdi>
                </span>
              ))}
            </dd>
          </div>
        ))}
      </dl>
    </details>
  )
}

function Given({ given: { actId, copies, students }, close }: { given: Answers['POST to-keep']; close: () => void }) {
  const undo = useMutation({
    mutationFn: () => api.delete<Answers['DELETE to-keep/acts/{actId}']>(`to-keep/acts/${actId}`),
  })
  return (
    <>
      <Modal.Body>
        <p role="status">
          {undo.data
            ? undo.data.opened === 0
              ? `Taken back: ${copiesInWords(undo.data.taken)}.`
              : `Taken back: ${copiesInWords(undo.data.taken)}. ${copiesInWords(undo.data.opened)} ${undo.data.opened === 1 ? 'was opened already and stays' : 'were opened already and stay'} with ${undo.data.opened === 1 ? 'its student' : 'their students'}.`
            : `${copiesInWords(copies)} given to ${students} ${students === 1 ? 'student' : 'students'} to keep.`}{' '}
          {!undo.data && (
            <Button variant="link" disabled={undo.isPending} onClick={() => undo.mutate()}>
              Undo
            </Button>
          )}
        </p>
        {undo.error && <Notice kind="bad">{sentenceOf(undo.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button onClick={close}>Close</Button>
      </Modal.Footer>
    </>
  )
}
