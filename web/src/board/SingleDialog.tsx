import { type BoardRow, COPY_TITLE_LIMIT, type Permission, type Renaming } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { MarksMoved } from '../marking/MarksMoved'
import { copiesInWords } from '../pens/words'
import type { Acted } from '../ui/ActedLine'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { ApiError, api, sentenceOf } from '../ui/api'

type Wish = Bodies['POST handouts/{handoutId}/single']
type Proof = Answers['POST handouts/{handoutId}/single/proof']

/** What can be changed of single copies. */
export type SingleOf = 'name' | 'permission' | 'edition'

const TITLES: Readonly<Record<SingleOf, string>> = {
  name: 'Rename',
  permission: 'Change what is permitted in',
  edition: 'Move to the newest edition:',
}

const DONE: Readonly<Record<SingleOf, string>> = {
  name: 'renamed',
  permission: 'with another permission',
  edition: 'moved to the newest edition',
}

const RENAMING: readonly { readonly how: Renaming['how']; readonly words: string }[] = [
  { how: 'before', words: 'put before the name' },
  { how: 'after', words: 'put after the name' },
  { how: 'another title', words: 'another name' },
  { how: 'as the slip says', words: 'as the slip says' },
]

const MAY: readonly { readonly may: Permission | null; readonly words: string }[] = [
  { may: 'edit', words: 'write in the answer spaces and submit' },
  { may: 'comment', words: 'comment, not write' },
  { may: 'view', words: 'look, and nothing else' },
  { may: null, words: 'what the slip says' },
]

/** New names that are shown before. */
const SHOWN = 6

interface Props {
  readonly of: SingleOf
  readonly handoutId: string
  readonly rows: readonly BoardRow[]
  readonly close: () => void
  readonly done: (acted: Acted) => void
}

/** Gives single copies something of their own, in place of what the slip says: what becomes of them is shown first. */
export function SingleDialog({ of, handoutId, rows, close, done }: Props) {
  const client = useQueryClient()
  const [how, setHow] = useState<Renaming['how']>(rows.length === 1 ? 'another title' : 'after')
  const [text, setText] = useState(rows.length === 1 ? rows[0]!.title : '')
  const [may, setMay] = useState<Permission | null>('comment')
  const settled = useDeferredValue(text)
  const copyIds = rows.map(({ copyId }) => copyId)
  const wishWith = (words: string): Wish => ({
    copyIds,
    ...(of === 'name' && { renaming: { how, text: words } }),
    ...(of === 'permission' && { may }),
    ...(of === 'edition' && { newest: true }),
  })
  const asksNothing = of === 'name' && how !== 'as the slip says' && settled.trim() === ''
  const wish = wishWith(settled)
  const proof = useQuery({
    queryKey: ['single', handoutId, wish],
    queryFn: () => api.post<Proof>(`handouts/${handoutId}/single/proof`, wish),
    enabled: !asksNothing,
    retry: false,
    staleTime: 0,
    gcTime: 0,
  })
  const change = useMutation({
    mutationFn: () => api.post<unknown>(`handouts/${handoutId}/single`, wishWith(text)),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['board', handoutId] })
      const words = countOf(proof.data)
      done({ id: `single ${Date.now()}`, words: `${copiesInWords(words)} ${DONE[of]}.`, undo: 'shown first' })
      close()
    },
  })
  const problem = change.error ?? proof.error
  const inField = of === 'name' && problem instanceof ApiError && problem.status === 422 ? sentenceOf(problem) : null
  const count = countOf(proof.data)
  return (
    <Modal show onHide={close} aria-labelledby="single-title">
      <Form
        onSubmit={(event) => {
          event.preventDefault()
          if (count > 0) change.mutate()
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="single-title">
            {TITLES[of]} {copiesInWords(rows.length)}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {of === 'name' && (
            <>
              <div role="group" aria-label="How" className="mb-2">
                {RENAMING.map((one) => (
                  <Form.Check
                    key={one.how}
                    type="radio"
                    name="renaming"
                    id={`renaming-${one.how}`}
                    label={one.words}
                    checked={how === one.how}
                    onChange={() => setHow(one.how)}
                  />
                ))}
              </div>
              {how !== 'as the slip says' && (
                <TextField
                  id="renaming-text"
                  label={how === 'another title' ? 'Called' : 'Words'}
                  value={text}
                  change={(value) => setText(value.slice(0, COPY_TITLE_LIMIT))}
                  problem={inField}
                />
              )}
            </>
          )}
          {of === 'permission' && (
            <div role="group" aria-label="Those who hold them may" className="mb-2">
              <p className="mb-1">Those who hold them may</p>
              {MAY.map((one) => (
                <Form.Check
                  key={one.words}
                  type="radio"
                  name="single-may"
                  id={`single-may-${one.may ?? 'slip'}`}
                  label={one.words}
                  checked={may === one.may}
                  onChange={() => setMay(one.may)}
                />
              ))}
            </div>
          )}
          {problem && !inField && <Notice kind="bad">{sentenceOf(problem)}</Notice>}
          {proof.data && !problem && <ProofLines proof={proof.data} all={rows.length} />}
          {proof.data && !problem && proof.data.moved.length > 0 && (
            <MarksMoved handoutId={handoutId} why="By another edition" wish={{ copies: movesOf(proof.data) }} />
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={count === 0 || change.isPending || proof.isFetching || settled !== text}>
            {of === 'name' ? 'Rename' : of === 'edition' ? 'Move' : 'Change'} {copiesInWords(count)}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}

const movesOf = ({ moved }: Proof) =>
  moved.flatMap(({ slotKey, worksheetId, to }) => (worksheetId === null ? [] : [{ slotKey, worksheetId, edition: to }]))

const countOf = (proof: Proof | undefined): number =>
  proof ? Math.max(proof.renamed.length, proof.permitted, proof.moved.length) : 0

function ProofLines({ proof, all }: { readonly proof: Proof; readonly all: number }) {
  const count = countOf(proof)
  const [first] = proof.moved
  return (
    <div className="single-proof">
      {proof.renamed.length > 0 && (
        <ul>
          {proof.renamed.slice(0, SHOWN).map(({ from, to }) => (
            <li key={from}>
              <span className="soft">
                <bdi>{from}</bdi> becomes
              </span>{' '}
              <bdi>{to}</bdi>
            </li>
          ))}
          {proof.renamed.length > SHOWN && (
            <li className="soft">and {proof.renamed.length - SHOWN} more in the same way</li>
          )}
        </ul>
      )}
      {proof.permitted > 0 && (
        <p>
          {copiesInWords(proof.permitted)} {proof.permitted === 1 ? 'is' : 'are'} changed at once, also where somebody
          has one open. What is written stays.
        </p>
      )}
      {first && (
        <p>
          {copiesInWords(proof.moved.length)} {proof.moved.length === 1 ? 'goes' : 'go'} from edition{' '}
          {[...new Set(proof.moved.map(({ from }) => from))].toSorted((a, b) => a - b).join(', ')} to edition {first.to}
          . Answers stay where their answer spaces do; what loses its space is kept beside the copy.
        </p>
      )}
      {count < all && (
        <p className="soft">
          {copiesInWords(all - count)} {all - count === 1 ? 'is' : 'are'} so already.
        </p>
      )}
    </div>
  )
}
