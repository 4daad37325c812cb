import { type ReactNode, useId, useState } from 'react'
import { Form } from 'react-bootstrap'

interface FieldProps {
  readonly label: string
  readonly hint?: ReactNode
  readonly problem?: string | null
}

interface TextProps extends FieldProps {
  readonly value: string
  readonly change: (value: string) => void
  readonly limit?: number
  readonly rows?: number
}

/** A text of a setting, over one or several lines. */
export function TextSetting({ label, hint, problem, value, change, limit, rows }: TextProps) {
  const id = useId()
  return (
    <Form.Group controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        dir="auto"
        {...(rows && { as: 'textarea' as const, rows })}
        {...(limit && { maxLength: limit })}
        isInvalid={!!problem}
        value={value}
        onChange={({ target }) => change(target.value)}
      />
      {problem && <Form.Control.Feedback type="invalid">{problem}</Form.Control.Feedback>}
      {hint && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  )
}

interface NumberProps extends FieldProps {
  readonly value: number | null
  readonly change: (value: number | null) => void
  readonly least: number
  readonly most: number
  readonly whole?: boolean
  /** May be left empty. */
  readonly empty?: boolean
}

/** A number of a setting; what is typed stays until it is one within the bounds. */
export function NumberSetting({ label, hint, value, change, least, most, whole, empty }: NumberProps) {
  const id = useId()
  const [typed, setTyped] = useState<string | null>(null)
  const shown = typed ?? (value === null ? '' : String(value))
  const read = (text: string): number | null | undefined => {
    if (!text.trim()) return empty ? null : undefined
    const number = Number(text.replace(',', '.'))
    if (!Number.isFinite(number) || number < least || number > most || (whole && !Number.isInteger(number)))
      return undefined
    return number
  }
  const isWrong = typed !== null && read(typed) === undefined
  return (
    <Form.Group controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        inputMode="decimal"
        isInvalid={isWrong}
        value={shown}
        onChange={({ target }) => {
          setTyped(target.value)
          const number = read(target.value)
          if (number !== undefined) change(number)
        }}
        onBlur={() => !isWrong && setTyped(null)}
      />
      {isWrong && (
        <Form.Control.Feedback type="invalid">
          {whole ? 'A whole number' : 'A number'} from {least} to {most}.
        </Form.Control.Feedback>
      )}
      {hint && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  )
}

interface ChoiceProps<T extends string> extends FieldProps {
  readonly value: T
  readonly change: (value: T) => void
  readonly choices: readonly (readonly [T, string])[]
}

/** One of some words. */
export function ChoiceSetting<T extends string>({ label, hint, value, change, choices }: ChoiceProps<T>) {
  const id = useId()
  return (
    <Form.Group controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Select size="sm" value={value} onChange={({ target }) => change(target.value as T)}>
        {choices.map(([choice, words]) => (
          <option key={choice} value={choice}>
            {words}
          </option>
        ))}
      </Form.Select>
      {hint && <Form.Text>{hint}</Form.Text>}
    </Form.Group>
  )
}

/** Yes or no. */
export function TickSetting({
  label,
  value,
  change,
}: {
  label: string
  value: boolean
  change: (value: boolean) => void
}) {
  const id = useId()
  return (
    <Form.Check
      id={id}
      className="tick-setting"
      label={label}
      checked={value}
      onChange={({ target }) => change(target.checked)}
    />
  )
}
