import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'

export interface BesideText {
  readonly name: string
  readonly text: string
}

/** As many as the server takes, and as long. */
const MOST = 10
const LETTERS = 100_000

interface Props {
  readonly texts: readonly BesideText[]
  readonly change: (texts: readonly BesideText[]) => void
}

/** Texts that are put beside the copies, to be compared with them: pages of a book, an article. */
export function BesideTexts({ texts, change }: Props) {
  const [isOpen, setOpen] = useState(false)
  const [text, setText] = useState('')
  const [name, setName] = useState('')
  const tooLong = text.length > LETTERS
  const put = () => {
    change([...texts, { name: name.trim() || `Text ${texts.length + 1}`, text }])
    setOpen(false)
    setText('')
    setName('')
  }
  return (
    <div className="beside-texts">
      {texts.map((one, at) => (
        <span key={at} className="tag">
          <bdi>{one.name}</bdi>{' '}
          <Button
            size="sm"
            variant="link"
            aria-label={`Take ${one.name} away`}
            onClick={() => change(texts.filter((_, other) => other !== at))}
          >
            ×
          </Button>
        </span>
      ))}
      <Button size="sm" variant="outline-dark" disabled={texts.length >= MOST} onClick={() => setOpen(true)}>
        Put a text beside
      </Button>
      {isOpen && (
        <Modal show onHide={() => setOpen(false)} aria-labelledby="beside-title">
          <Modal.Header closeButton>
            <Modal.Title id="beside-title">Put a text beside</Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <p className="soft">An article, a page of a book: each copy is compared with it. It is not kept.</p>
            <Form.Label htmlFor="beside-name">Called</Form.Label>
            <Form.Control
              id="beside-name"
              value={name}
              maxLength={200}
              placeholder={`Text ${texts.length + 1}`}
              onChange={({ target }) => setName(target.value)}
            />
            <Form.Label htmlFor="beside-text" className="mt-2">
              Text
            </Form.Label>
            <Form.Control
              id="beside-text"
              as="textarea"
              rows={10}
              value={text}
              isInvalid={tooLong}
              onChange={({ target }) => setText(target.value)}
            />
            {tooLong && (
              <Form.Control.Feedback type="invalid">
                It has {text.length.toLocaleString('en')} characters; up to {LETTERS.toLocaleString('en')} can be
                compared: put a part of it here.
              </Form.Control.Feedback>
            )}
          </Modal.Body>
          <Modal.Footer>
            <Button disabled={text.trim() === '' || tooLong} onClick={put}>
              Compare with it
            </Button>
          </Modal.Footer>
        </Modal>
      )}
    </div>
  )
}
