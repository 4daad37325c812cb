import { COMMENT_LIMIT, commentText } from '@gavrin/core'
import {
  type ComponentType,
  type KeyboardEvent,
  type SubmitEvent,
  Suspense,
  lazy,
  useEffect,
  useId,
  useRef,
  useState,
} from 'react'
import Button from 'react-bootstrap/Button'
import Form from 'react-bootstrap/Form'
import type { PersonNamed } from './queries'
import type { StockRemarksProps } from './StockRemarks'
import { useNaming } from './useNaming'

const StockRemarks = lazy<ComponentType<StockRemarksProps>>(() => import('./StockRemarks'))

/** Does something once a note has its place in the margin: when it has been drawn there. */
export function oncePlaced(then: () => void): () => void {
  let frame = requestAnimationFrame(() => (frame = requestAnimationFrame(then)))
  return () => cancelAnimationFrame(frame)
}

interface Props {
  readonly label: string
  readonly send: string
  /** As it was written before. */
  readonly text?: string
  /** Who can be named in it. */
  readonly people: readonly PersonNamed[]
  /** It can be for the staff alone. */
  readonly mayHide?: boolean
  /** Stock remarks can be put in. */
  readonly withStock?: boolean
  readonly done: (text: string, staffOnly: boolean) => void
  readonly leave: () => void
}

/** A place to write a comment in: it is sent by its button, or with Ctrl and Enter. */
export function CommentForm({
  label,
  send,
  text: before = '',
  people,
  mayHide = false,
  withStock = false,
  done,
  leave,
}: Props) {
  const [text, setText] = useState(before)
  const [staffOnly, setStaffOnly] = useState(false)
  const [isTried, setTried] = useState(false)
  const field = useRef<HTMLTextAreaElement>(null)
  const about = useId()
  const naming = useNaming({ people, text, setText, field })
  useEffect(() => {
    const area = field.current
    area?.focus({ preventScroll: true })
    area?.setSelectionRange(area.value.length, area.value.length)
    return oncePlaced(() => area?.form?.scrollIntoView({ block: 'nearest' }))
  }, [])
  const read = commentText(text)
  const problem = !read.ok && (isTried || text.length > COMMENT_LIMIT) ? read.problems[0]!.sentence : ''
  const submit = (event?: SubmitEvent) => {
    event?.preventDefault()
    if (read.ok) return done(read.value, staffOnly)
    setTried(true)
    field.current?.focus()
  }
  const pressed = (event: KeyboardEvent) => {
    if (naming.pressed(event)) return
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      submit()
    }
    if (event.key === 'Escape' && text.trim() === before.trim()) leave()
  }
  return (
    <form className="comment-form" onSubmit={submit}>
      <label htmlFor={`${about}-text`}>{label}</label>
      <textarea
        ref={field}
        id={`${about}-text`}
        className="form-control"
        dir="auto"
        rows={Math.min(10, Math.max(2, text.split('\n').length + Math.floor(text.length / 40)))}
        value={text}
        aria-invalid={problem !== ''}
        aria-describedby={problem ? `${about}-problem` : undefined}
        aria-autocomplete="list"
        aria-controls={naming.names.length > 0 ? `${about}-names` : undefined}
        aria-activedescendant={naming.names.length > 0 ? `${about}-names-${naming.at}` : undefined}
        onChange={({ target }) => {
          setText(target.value)
          setTried(false)
          naming.look(target)
        }}
        onSelect={({ target }) => naming.look(target as HTMLTextAreaElement)}
        onBlur={naming.leave}
        onKeyDown={pressed}
      />
      {naming.names.length > 0 && (
        <ul id={`${about}-names`} role="listbox" aria-label="Who is meant" className="names-offered">
          {naming.names.map(({ id, name }, at) => (
            <li
              key={id}
              id={`${about}-names-${at}`}
              role="option"
              aria-selected={at === naming.at}
              // Before the field loses the focus.
              onPointerDown={(event) => {
                event.preventDefault()
                naming.choose(name)
              }}
            >
              <bdi>{name}</bdi>
            </li>
          ))}
        </ul>
      )}
      {problem && (
        <div id={`${about}-problem`} className="bad" role="alert">
          {problem}
        </div>
      )}
      {mayHide && (
        <Form.Check
          id={`${about}-hidden`}
          label="Only the staff see it"
          checked={staffOnly}
          onChange={({ target }) => setStaffOnly(target.checked)}
        />
      )}
      {withStock && (
        <Suspense>
          <StockRemarks
            text={text}
            put={(remark) => {
              setText(remark)
              field.current?.focus()
            }}
          />
        </Suspense>
      )}
      <div className="comment-form-acts">
        <Button size="sm" type="submit">
          {send}
        </Button>
        <Button size="sm" variant="link" onClick={leave}>
          Leave it
        </Button>
      </div>
    </form>
  )
}
