import { REMARK_TOKENS, STOCK_LIMITS } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { copiesInWords } from '../pens/words'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'

type Stock = Answers['GET stock-remarks'][number]
type Uses = Answers['GET stock-remarks/uses'][number]

export const STOCK_KEY = ['stock remarks']
const USES_KEY = ['stock remarks', 'uses']

/** All remarks that a teacher keeps: what they say, in how many copies they stand; put in other words, there too where that is wished. */
export default function OwnRemarks({ close }: { readonly close: () => void }) {
  const stock = useQuery({ queryKey: STOCK_KEY, queryFn: () => api.get<Stock[]>('stock-remarks') })
  const uses = useQuery({ queryKey: USES_KEY, queryFn: () => api.get<Uses[]>('stock-remarks/uses'), staleTime: 0 })
  const [fresh, setFresh] = useState<Stock>(() => ({ id: newUuid(), short: '', text: '' }))
  const usesOf = new Map((uses.data ?? []).map((one) => [one.id, one]))
  const all = stock.data ?? []
  return (
    <Modal show onHide={close} size="lg" aria-labelledby="own-remarks-title" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="own-remarks-title">My remarks</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="soft">
          A remark is called up by a slash and its short name.{' '}
          {REMARK_TOKENS.map((token) => `{${token}}`).join(' and ')} are filled in when it is kept.
        </p>
        {stock.error && <Notice kind="bad">{sentenceOf(stock.error)}</Notice>}
        <ul className="own-remarks">
          {all.map((one) => (
            <OneRemark key={one.id} kept={one} uses={usesOf.get(one.id)} done={() => undefined} />
          ))}
          <OneRemark key={fresh.id} kept={fresh} isNew done={() => setFresh({ id: newUuid(), short: '', text: '' })} />
        </ul>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-dark" onClick={close}>
          Close
        </Button>
      </Modal.Footer>
    </Modal>
  )
}

interface Props {
  readonly kept: Stock
  readonly uses?: Uses | undefined
  readonly isNew?: boolean
  readonly done: () => void
}

function OneRemark({ kept, uses, isNew = false, done }: Props) {
  const client = useQueryClient()
  const [short, setShort] = useState(kept.short)
  const [text, setText] = useState(kept.text)
  const [everywhere, setEverywhere] = useState(false)
  const renew = () => client.invalidateQueries({ queryKey: STOCK_KEY })
  const put = (to: { short: string; text: string; everywhere?: boolean }) =>
    api.put<Answers['PUT stock-remarks/{remarkId}']>(
      `stock-remarks/${kept.id}`,
      to satisfies Bodies['PUT stock-remarks/{remarkId}'],
    )
  const keep = useMutation({
    mutationFn: () => put({ short, text, everywhere }),
    onSuccess: () => {
      done()
      setEverywhere(false)
    },
    onSettled: renew,
  })
  const undo = useMutation({
    mutationFn: (was: Stock) => put({ short: was.short, text: was.text, everywhere: (keep.data?.changed ?? 0) > 0 }),
    onSuccess: (_, was) => {
      setShort(was.short)
      setText(was.text)
      keep.reset()
    },
    onSettled: renew,
  })
  const [before, setBefore] = useState<Stock | null>(null)
  const isOther = short !== kept.short || text !== kept.text
  const stands = uses && uses.copies > 0
  return (
    <li>
      <Form.Control
        size="sm"
        aria-label={isNew ? 'Short name of a new remark' : `Short name of ${kept.short}`}
        placeholder="short name"
        maxLength={STOCK_LIMITS.short}
        value={short}
        onChange={({ target }) => setShort(target.value)}
      />
      <div>
        <Form.Control
          as="textarea"
          rows={2}
          size="sm"
          dir="auto"
          aria-label={isNew ? 'Words of a new remark' : `Words of ${kept.short}`}
          placeholder={isNew ? 'A new remark' : ''}
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
        <div className="own-remark-acts">
          {!isNew && (
            <span className="soft">{uses ? (stands ? `in ${copiesInWords(uses.copies)}` : 'in no copy') : ''}</span>
          )}
          {isOther && !isNew && stands && text !== kept.text && (
            <Form.Check
              id={`everywhere-${kept.id}`}
              label={
                uses.handedBack > 0
                  ? `there too (${uses.handedBack} handed back: their students see the new words at once)`
                  : 'there too'
              }
              checked={everywhere}
              onChange={({ target }) => setEverywhere(target.checked)}
            />
          )}
          {isOther && (
            <Button
              size="sm"
              disabled={keep.isPending || !short.trim() || !text.trim()}
              onClick={() => {
                setBefore(kept)
                keep.mutate()
              }}
            >
              Keep
            </Button>
          )}
          {keep.isSuccess && !isOther && !isNew && before && (
            <span role="status">
              {keep.data.changed > 0 ? `Changed, in ${copiesInWords(keep.data.changed)} too.` : 'Changed.'}
              {keep.data.failed > 0 && ` ${copiesInWords(keep.data.failed)} stay as they are.`}{' '}
              <Button size="sm" variant="link" disabled={undo.isPending} onClick={() => undo.mutate(before)}>
                Undo
              </Button>
            </span>
          )}
        </div>
        {(keep.error ?? undo.error) && <Notice kind="bad">{sentenceOf((keep.error ?? undo.error)!)}</Notice>}
      </div>
    </li>
  )
}
