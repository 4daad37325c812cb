import { MARK_BOOK_LIMITS, pointsInWords, readPoints } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { useClass } from '../class/queries'
import type { Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'
import type { BookRead } from './queries'

interface Props {
  readonly classId: string
  /** Null: a new one. */
  readonly column: BookRead['paper'][number] | null
  readonly close: () => void
}

/** A column for something that was marked on paper. */
export function ColumnDialog({ classId, column, close }: Props) {
  const client = useQueryClient()
  const opened = useClass(classId)
  const [id] = useState(() => column?.id ?? newUuid())
  const [name, setName] = useState(column?.name ?? '')
  const [most, setMost] = useState(column ? pointsInWords(column.most) : '10')
  const [unit, setUnit] = useState(column?.unit ?? '')
  const [isTried, setTried] = useState(false)
  const read = readPoints(most, undefined, 1)
  const done = async () => {
    await client.invalidateQueries({ queryKey: ['class', classId, 'mark book'] })
    close()
  }
  const keep = useMutation({
    mutationFn: () =>
      api.put(`classes/${classId}/mark-book/columns/${id}`, {
        ...{ name, unit: unit || null, most: read.ok ? read.value : 0 },
      } satisfies Bodies['PUT classes/{classId}/mark-book/columns/{columnId}']),
    onSuccess: done,
  })
  const remove = useMutation({
    mutationFn: (withMarks: boolean) =>
      api.post(`classes/${classId}/mark-book/columns/${id}/remove`, {
        withMarks,
      } satisfies Bodies['POST classes/{classId}/mark-book/columns/{columnId}/remove']),
    onSuccess: done,
  })
  const hasMarks = remove.error instanceof ApiError && remove.error.code === 'has-marks'
  const error = keep.error ?? (hasMarks ? null : remove.error)
  return (
    <Modal show onHide={close} aria-labelledby="column-title">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          setTried(true)
          if (name.trim() && read.ok) keep.mutate()
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="column-title">{column ? 'Change this column' : 'A column for marks on paper'}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Group controlId="column-name" className="mb-2">
            <Form.Label>What was marked</Form.Label>
            <Form.Control
              value={name}
              maxLength={MARK_BOOK_LIMITS.name}
              autoFocus
              isInvalid={isTried && !name.trim()}
              onChange={({ target }) => setName(target.value)}
            />
            <Form.Control.Feedback type="invalid">Give the column a name.</Form.Control.Feedback>
          </Form.Group>
          <Form.Group controlId="column-most" className="mb-2">
            <Form.Label>Out of how many points</Form.Label>
            <Form.Control
              value={most}
              inputMode="decimal"
              isInvalid={!read.ok}
              onChange={({ target }) => setMost(target.value)}
            />
            <Form.Control.Feedback type="invalid">{read.ok ? '' : read.problems[0]!.sentence}</Form.Control.Feedback>
          </Form.Group>
          <Form.Group controlId="column-unit">
            <Form.Label>Unit</Form.Label>
            <Form.Select value={unit} onChange={({ target }) => setUnit(target.value)}>
              <option value="">none</option>
              {[...new Set([...(opened.data?.units.map((one) => one.name) ?? []), ...(unit ? [unit] : [])])].map(
                (one) => (
                  <option key={one}>{one}</option>
                ),
              )}
            </Form.Select>
          </Form.Group>
          {error && <Notice kind="bad">{sentenceOf(error)}</Notice>}
          {hasMarks && (
            <Notice kind="look">
              {sentenceOf(remove.error)}{' '}
              <Button variant="link" onClick={() => remove.mutate(true)}>
                Take it out with its marks
              </Button>
            </Notice>
          )}
        </Modal.Body>
        <Modal.Footer>
          {column && (
            <Button variant="link" className="me-auto" onClick={() => remove.mutate(false)}>
              Take it out
            </Button>
          )}
          <Button type="submit" disabled={keep.isPending}>
            {column ? 'Keep' : 'Add the column'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
