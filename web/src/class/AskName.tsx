import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { TextField } from '../ui/TextField'
import { ApiError, sentenceOf } from '../ui/api'

interface Props {
  readonly title: string
  readonly label: string
  readonly name: string
  readonly done: string
  readonly keep: (name: string) => Promise<unknown>
  readonly close: () => void
}

/** Asks for one name; what is wrong with it is said under it. */
export function AskName({ title, label, name, done, keep, close }: Props) {
  const [typed, setTyped] = useState(name)
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    setBusy(true)
    try {
      await keep(typed)
      close()
    } catch (error) {
      setProblem((error instanceof ApiError && error.errors[0]?.sentence) || sentenceOf(error))
      setBusy(false)
    }
  }
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>{title}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <TextField
            id="asked-name"
            label={label}
            autoFocus
            value={typed}
            change={(value) => {
              setTyped(value)
              setProblem(null)
            }}
            problem={problem}
          />
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit" disabled={busy}>
            {done}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
