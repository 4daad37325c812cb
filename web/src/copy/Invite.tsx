import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import Button from 'react-bootstrap/Button'
import Form from 'react-bootstrap/Form'
import Modal from 'react-bootstrap/Modal'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { Answers, Bodies } from '../contract'

type Mate = Answers['GET copies/{copyId}/invited'][number]

/** Classmates whom the holder of a copy lets in, where the teacher allows it. */
export function Invite({ copyId }: { readonly copyId: string }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button variant="link" size="sm" onClick={() => setOpen(true)}>
        Let someone in
      </Button>
      {open && (
        <Modal show onHide={() => setOpen(false)} scrollable aria-labelledby="invite-title">
          <Modal.Header closeButton>
            <Modal.Title id="invite-title">Who else may see this copy</Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <Mates copyId={copyId} />
          </Modal.Body>
        </Modal>
      )}
    </>
  )
}

function Mates({ copyId }: { copyId: string }) {
  const client = useQueryClient()
  const key = ['invited', copyId]
  const mates = useQuery({ queryKey: key, queryFn: () => api.get<Mate[]>(`copies/${copyId}/invited`) })
  const invite = useMutation({
    mutationFn: ({ personId, may }: Bodies['PUT copies/{copyId}/invited/{personId}'] & Pick<Mate, 'personId'>) =>
      api.put<Mate[]>(`copies/${copyId}/invited/${personId}`, {
        may,
      } satisfies Bodies['PUT copies/{copyId}/invited/{personId}']),
    onSuccess: (list) => client.setQueryData(key, list),
  })
  return (
    <Loaded query={mates}>
      {(list) => (
        <>
          {invite.error && <Notice kind="bad">{sentenceOf(invite.error)}</Notice>}
          <p className="soft">Your teachers always see it.</p>
          <ul className="invite-list">
            {list.map(({ personId, name, may }) => (
              <li key={personId}>
                <bdi>{name}</bdi>
                <Form.Select
                  size="sm"
                  aria-label={`What ${name} may do`}
                  value={may ?? ''}
                  onChange={({ target }) =>
                    invite.mutate({
                      personId,
                      may: (target.value || null) as Bodies['PUT copies/{copyId}/invited/{personId}']['may'],
                    })
                  }
                >
                  <option value="">does not see it</option>
                  <option value="view">may view it</option>
                  <option value="comment">may comment</option>
                  <option value="edit">may write in it</option>
                </Form.Select>
              </li>
            ))}
          </ul>
          {list.length === 0 && <p className="soft">There is nobody else in this class.</p>}
        </>
      )}
    </Loaded>
  )
}
