import { TextField } from '../ui/TextField'
import { INKS, inkName } from '../ui/inks'

export interface ClassEntry {
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
}

interface Props {
  readonly entry: ClassEntry
  readonly change: (entry: ClassEntry) => void
  readonly error: (field: string) => string | undefined
  readonly autoFocus?: boolean
}

/** What a class is called and the ink its answers are written in. */
export function ClassFields({ entry, change, error, autoFocus = false }: Props) {
  const field = (name: 'name' | 'subject' | 'year', label: string, focus = false) => (
    <TextField
      id={`class-${name}`}
      label={label}
      autoFocus={focus}
      value={entry[name]}
      change={(value) => change({ ...entry, [name]: value })}
      problem={error(name)}
    />
  )
  return (
    <>
      {field('name', 'Name, as the school says it', autoFocus)}
      {field('subject', 'Subject')}
      {field('year', 'School year')}
      <fieldset className="ink-choice">
        <legend>Colour of what students write</legend>
        {INKS.map((ink) => (
          <label key={ink} data-ink={inkName(ink)}>
            <input type="radio" name="ink" checked={entry.ink === ink} onChange={() => change({ ...entry, ink })} />
            <span>{ink}</span>
          </label>
        ))}
      </fieldset>
    </>
  )
}
