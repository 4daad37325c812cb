import { MARK_BOOK_LIMITS } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import type { Bodies } from '../contract'
import { api, sentenceOf } from '../ui/api'
import { useLeavingAsked } from '../ui/untilReached'

interface Props {
  readonly classId: string
  readonly personId: string
  readonly kept: string
}

/** What one notes of a student, for oneself alone; kept when one goes on. */
export function StudentNote({ classId, personId, kept }: Props) {
  const client = useQueryClient()
  const [typed, setTyped] = useState<string | null>(null)
  const renew = () => client.invalidateQueries({ queryKey: ['class', classId, 'mark book'] })
  const keep = useMutation({
    mutationFn: (to: string) =>
      api.put(`classes/${classId}/mark-book/notes/${personId}`, {
        ...{ was: kept, to },
      } satisfies Bodies['PUT classes/{classId}/mark-book/notes/{personId}']),
    onSuccess: async (_, to) => {
      await renew()
      setTyped((now) => (now === to ? null : now))
    },
    // What was typed stays over what stands there now.
    onError: () => renew(),
  })
  useLeavingAsked(typed !== null && typed.trim() !== kept)
  return (
    <div className="student-note">
      <Form.Control
        as="textarea"
        rows={2}
        size="sm"
        aria-label="Your note of this student"
        placeholder="A note of your own: nobody else sees it"
        maxLength={MARK_BOOK_LIMITS.note}
        value={typed ?? kept}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={() => typed !== null && typed.trim() !== kept && keep.mutate(typed)}
      />
      {keep.error && (
        <p className="bad" role="alert">
          {sentenceOf(keep.error)} What you typed is still here.
        </p>
      )}
    </div>
  )
}
