import { withCalledRemark } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Suspense, lazy, useEffect, useState } from 'react'
import Button from 'react-bootstrap/Button'
import type { Answers, Bodies } from '../contract'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'

const OwnRemarks = lazy(() => import('./OwnRemarks'))

type Stock = Answers['GET stock-remarks']

export interface StockRemarksProps {
  /** What is written so far: a short name after a slash at its end becomes the remark. */
  readonly text: string
  readonly put: (text: string) => void
}

/** Remarks that a teacher keeps: put in by a press, or by their short name after a slash; what is written can be kept too. */
export default function StockRemarks({ text, put }: StockRemarksProps) {
  const client = useQueryClient()
  const stock = useQuery({ queryKey: ['stock remarks'], queryFn: () => api.get<Stock>('stock-remarks') })
  const [short, setShort] = useState<string | null>(null)
  const [isOpen, setOpen] = useState(false)
  const renew = () => client.invalidateQueries({ queryKey: ['stock remarks'] })
  const keep = useMutation({
    mutationFn: () =>
      api.put(`stock-remarks/${newUuid()}`, {
        short: short ?? '',
        text: text.trim(),
      } satisfies Bodies['PUT stock-remarks/{remarkId}']),
    onSuccess: () => setShort(null),
    onSettled: renew,
  })
  const remove = useMutation({
    mutationFn: ({ id }: Stock[number]) => api.delete(`stock-remarks/${id}`),
    onSettled: renew,
  })
  const bringBack = useMutation({
    mutationFn: ({ id, ...remark }: Stock[number]) =>
      api.put(`stock-remarks/${id}`, remark satisfies Bodies['PUT stock-remarks/{remarkId}']),
    onSuccess: () => remove.reset(),
    onSettled: renew,
  })
  const all = stock.data ?? []
  useEffect(() => {
    const called = withCalledRemark(text, all)
    if (called !== null) put(called)
  })
  const typed = /(?:^|\s)\/([\p{L}\p{N}-]*)$/u.exec(text)?.[1]?.toLocaleLowerCase()
  const shown = typed === undefined ? all : all.filter((one) => one.short.startsWith(typed))
  const before = typed === undefined ? text : text.slice(0, text.length - typed.length - 1)
  return (
    <div className="stock-remarks">
      {shown.slice(0, 12).map((one) => (
        <span key={one.id} className="stock-remark">
          <button
            type="button"
            title={one.text}
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => put([before.trim(), one.text].filter(Boolean).join(' '))}
          >
            {one.short}
          </button>
          <button type="button" aria-label={`Take ${one.short} out of your remarks`} onClick={() => remove.mutate(one)}>
            ×
          </button>
        </span>
      ))}
      {all.length > 0 && (
        <button type="button" className="btn btn-link btn-sm p-0" onClick={() => setOpen(true)}>
          My remarks …
        </button>
      )}
      {isOpen && (
        <Suspense>
          <OwnRemarks close={() => setOpen(false)} />
        </Suspense>
      )}
      {short === null ? (
        text.trim() && (
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => setShort('')}>
            Keep it for later
          </button>
        )
      ) : (
        <span className="stock-keep">
          <input
            className="form-control form-control-sm"
            aria-label="Short name of this remark"
            placeholder="short name"
            maxLength={20}
            autoFocus
            value={short}
            onChange={({ target }) => setShort(target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Escape') setShort(null)
              if (event.key !== 'Enter') return
              event.preventDefault()
              keep.mutate()
            }}
          />
          <Button size="sm" variant="outline-dark" onClick={() => keep.mutate()}>
            Keep
          </Button>
        </span>
      )}
      {remove.isSuccess && (
        <span className="soft" role="status">
          {remove.variables.short} is taken out.{' '}
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => bringBack.mutate(remove.variables)}>
            Undo
          </button>
        </span>
      )}
      {keep.error && (
        <span className="bad" role="alert">
          {sentenceOf(keep.error)}
        </span>
      )}
      {all.length === 0 && short === null && (
        <span className="soft">Remarks that you keep are called up by a slash and their short name.</span>
      )}
    </div>
  )
}
