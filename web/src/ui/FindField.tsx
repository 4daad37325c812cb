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

/** Whether a text is found by what was typed: any part of it, without regard to case or accents. */
export function isFound(text: string, typed: string): boolean {
  return foldAccents(text).includes(foldAccents(typed).trim())
}

// Letters that have no form without their stroke in Unicode.
const STROKES: Readonly<Record<string, string>> = { ł: 'l', ø: 'o', đ: 'd', ħ: 'h', ı: 'i' }

const foldAccents = (text: string) =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[łøđħı]/g, (letter) => STROKES[letter] ?? letter)
