import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { FORMAT_NAMES, type SavedFormat } from './formats'
import { SAVED_KEY, SavedList } from './SavedList'

interface Props {
  readonly of: Omit<Bodies['POST saved-copies'], 'format'>
  /** What is saved, in words: "12 copies of No. 3 …". */
  readonly what: string
  readonly small?: boolean
}

/** Saves many copies as documents in one file, made on the server while one goes on. */
export function SaveCopiesButton({ of, what, small }: Props) {
  const [isOpen, setOpen] = useState(false)
  return (
    <>
      <Button variant="outline-dark" {...(small && { size: 'sm' as const })} onClick={() => setOpen(true)}>
        Copies as documents
      </Button>
      {isOpen && <SaveCopies of={of} what={what} close={() => setOpen(false)} />}
    </>
  )
}

/** As what copies are saved, and how far those are that one has saved. */
export function SaveCopies({ of, what, close }: Omit<Props, 'small'> & { readonly close: () => void }) {
  const client = useQueryClient()
  const [format, setFormat] = useState<SavedFormat>('pdf')
  const begin = useMutation({
    mutationFn: () => api.post<unknown>('saved-copies', { ...of, format } satisfies Bodies['POST saved-copies']),
    onSuccess: () => client.invalidateQueries({ queryKey: SAVED_KEY }),
  })
  return (
    <Modal show onHide={close} aria-labelledby="save-copies-title" size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="save-copies-title">Copies as documents</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          <bdi>{what}</bdi>, as they are now, with what is written in them: a document each, called as the copy is, all
          in one zip file.
        </p>
        <div className="save-formats" role="group" aria-label="As">
          {(Object.keys(FORMAT_NAMES) as SavedFormat[]).map((one) => (
            <Form.Check
              key={one}
              inline
              type="radio"
              id={`save-${one}`}
              name="save-format"
              label={FORMAT_NAMES[one]}
              checked={format === one}
              onChange={() => setFormat(one)}
            />
          ))}
          <Button disabled={begin.isPending} onClick={() => begin.mutate()}>
            Save them
          </Button>
        </div>
        {begin.error && <Notice kind="bad">{sentenceOf(begin.error)}</Notice>}
        <SavedList empty="" />
        <p className="soft mb-0">
          You may close this and go on: what is being saved is made meanwhile, and is to be found under your name at the
          top, for a week.
        </p>
      </Modal.Body>
    </Modal>
  )
}
