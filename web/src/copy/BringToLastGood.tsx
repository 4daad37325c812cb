import { useMutation, useQueryClient } from '@tanstack/react-query'
import Button from 'react-bootstrap/Button'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { Answers } from '../contract'

/** For the teachers of a copy that cannot be opened: what can be done, and what that does. */
export function BringToLastGood({ copyId, onDone }: { readonly copyId: string; readonly onDone: () => void }) {
  const client = useQueryClient()
  const mend = useMutation({
    mutationFn: () => api.post<Answers['POST copies/{copyId}/last-good']>(`copies/${copyId}/last-good`),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['copy', copyId] })
      onDone()
    },
  })
  return (
    <Notice kind="look">
      One answer of this copy holds a change that takes too long to read. That change, and what was written in the same
      answer after it, can be set aside; it is kept, and all else stays as it is.
      <div className="mt-2">
        <Button size="sm" variant="outline-dark" onClick={() => mend.mutate()} disabled={mend.isPending}>
          {mend.isPending ? 'Looking for the last good state …' : 'Bring it to its last good state'}
        </Button>
        {mend.error && <span className="bad"> {sentenceOf(mend.error)}</span>}
      </div>
    </Notice>
  )
}
