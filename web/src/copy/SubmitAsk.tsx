import Button from 'react-bootstrap/Button'
import Modal from 'react-bootstrap/Modal'

/** An answer space in which nothing stands. */
export interface Missing {
  readonly id: string
  readonly label: string
  readonly required: boolean
}

export interface SubmitAskProps {
  readonly missing: readonly Missing[]
  readonly submit: () => void
  readonly close: () => void
}

const FIELD = 'input, textarea, select, [contenteditable="true"], button'

/** Brings an answer space into view, with the caret in it. */
function goTo(id: string): void {
  const space = document.getElementById(`space-${id}`) ?? document.querySelector(`[data-space="${id}"]`)
  space?.scrollIntoView({ block: 'center' })
  space?.querySelector<HTMLElement>(FIELD)?.focus({ preventScroll: true })
}

/** Before something empty is submitted: what it is, with the way to it. */
export default function SubmitAsk({ missing, submit, close }: SubmitAskProps) {
  const must = missing.filter(({ required }) => required)
  const words = missing.length === 1 ? 'One answer is empty' : `${missing.length} answers are empty`
  return (
    <Modal
      show
      animation={false}
      onHide={close}
      // Where one goes next has the focus then.
      restoreFocus={false}
      aria-labelledby="submit-ask"
      scrollable
    >
      <Modal.Header closeButton>
        <Modal.Title id="submit-ask">{words}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {must.length > 0 && (
          <p>
            {must.length === 1 ? 'One of them must be filled in.' : `${must.length} of them must be filled in.`} Your
            teacher sees that it was left empty.
          </p>
        )}
        <ul className="submit-missing">
          {missing.map(({ id, label, required }) => (
            <li key={id}>
              <Button
                variant="link"
                onClick={() => {
                  close()
                  // When the page can be used again.
                  setTimeout(() => goTo(id))
                }}
              >
                <bdi>{label}</bdi>
              </Button>
              {required && <span className="soft"> must be filled in</span>}
            </li>
          ))}
        </ul>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-dark" onClick={close}>
          Go on writing
        </Button>
        <Button onClick={submit}>Submit as it is</Button>
      </Modal.Footer>
    </Modal>
  )
}
