import { type BookColumn, type MarkBookRules, MARK_BOOK_LIMITS } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { BookRead } from './queries'

interface Props {
  readonly classId: string
  readonly read: BookRead
  readonly columns: readonly BookColumn[]
  readonly close: () => void
}

/** How a mark book reckons: what is missing, how many of the best, how much each column counts. */
export function RulesDialog({ classId, read, columns, close }: Props) {
  const client = useQueryClient()
  const [rules, setRules] = useState<MarkBookRules>(read.rules)
  const [weights, setWeights] = useState<Readonly<Record<string, string>>>({})
  const textOf = (id: string) => weights[id] ?? String(rules.weights[id] ?? 1)
  const valueOf = (text: string) => Number(text.replace(',', '.'))
  const isWrong = (text: string) => {
    const value = valueOf(text)
    return text.trim() === '' || !(value >= 0 && value <= MARK_BOOK_LIMITS.weight)
  }
  const keep = useMutation({
    mutationFn: () =>
      api.put(`classes/${classId}/mark-book/rules`, {
        ...rules,
        weights: Object.fromEntries(columns.map(({ id }) => [id, Math.round(valueOf(textOf(id)) * 100) / 100])),
      } satisfies Bodies['PUT classes/{classId}/mark-book/rules']),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['class', classId, 'mark book'] })
      close()
    },
  })
  return (
    <Modal show onHide={close} aria-labelledby="rules-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          if (!columns.some(({ id }) => isWrong(textOf(id)))) keep.mutate()
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="rules-title">What counts</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Group controlId="rules-missing" className="mb-2">
            <Form.Label>What is due and not there</Form.Label>
            <Form.Select
              value={rules.missing}
              onChange={({ target }) => setRules({ ...rules, missing: target.value as MarkBookRules['missing'] })}
            >
              <option value="nothing">does not count</option>
              <option value="zero">counts as 0</option>
            </Form.Select>
          </Form.Group>
          <Form.Group controlId="rules-best" className="mb-2">
            <Form.Label>In each unit</Form.Label>
            <Form.Select
              value={rules.best ?? ''}
              onChange={({ target }) => setRules({ ...rules, best: target.value ? Number(target.value) : null })}
            >
              <option value="">all marks count</option>
              {Array.from({ length: 10 }, (_, at) => (
                <option key={at} value={at + 1}>
                  the best {at + 1} count
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          <fieldset className="rules-weights">
            <legend>How much each counts</legend>
            {columns.map(({ id, number, title }) => (
              <Form.Group key={id} controlId={`weight-${id}`} className="rules-weight">
                <Form.Label>
                  <span className="soft">{number}</span> <bdi>{title}</bdi>
                </Form.Label>
                <Form.Control
                  size="sm"
                  inputMode="decimal"
                  value={textOf(id)}
                  isInvalid={isWrong(textOf(id))}
                  onChange={({ target }) => setWeights({ ...weights, [id]: target.value })}
                />
              </Form.Group>
            ))}
          </fieldset>
          <p className="soft">
            2 counts twice, 0 not at all. The mean is of the marks in per cent, each times its weight.
          </p>
          {keep.error && <Notice kind="bad">{sentenceOf(keep.error)}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={keep.isPending}>
            Keep
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
