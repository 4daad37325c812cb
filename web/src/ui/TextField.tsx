import type { InputHTMLAttributes, ReactNode } from 'react'
import { Form } from 'react-bootstrap'

interface Props extends Pick<
  InputHTMLAttributes<HTMLInputElement>,
  'type' | 'autoFocus' | 'autoComplete' | 'className'
> {
  readonly id: string
  readonly label: ReactNode
  readonly value: string
  readonly change: (value: string) => void
  /** What is wrong with what was typed: one sentence under the field. */
  readonly problem?: string | null | undefined
  readonly hint?: ReactNode
}

/** A field of text with its label over it and what is wrong with it under it. */
export function TextField({ id, label, value, change, problem, hint, className = 'mb-3', ...more }: Props) {
  return (
    <Form.Group className={className} controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        dir="auto"
        {...more}
        value={value}
        isInvalid={!!problem}
        onChange={({ target }) => change(target.value)}
      />
      <Form.Control.Feedback type="invalid" role={problem ? 'alert' : undefined}>
        {problem}
      </Form.Control.Feedback>
      {hint && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  )
}
