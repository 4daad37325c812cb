import { Form } from 'react-bootstrap'

interface Props {
  /** What is looked for; also its name for screen readers. */
  readonly label: string
  readonly value: string
  readonly change: (value: string) => void
}

/** Narrows a list while it is typed in. */
export function FindField({ label, value, change }: Props) {
  return (
    <Form.Control
      type="search"
      size="sm"
      className="find-field"
      placeholder={label}
      aria-label={label}
      value={value}
      onChange={({ target }) => change(target.value)}
    />
  )
}
