import { Button } from 'react-bootstrap'
import { NumberSetting } from './fields'
import type { ListAt } from './listNumbers'

interface Props {
  readonly list: ListAt
  readonly change: (start: number) => void
}

/** With which number a list begins. */
export function ListSettings({ list: { start, next }, change }: Props) {
  return (
    <section aria-label="Numbered list">
      <h2>Numbered list</h2>
      <NumberSetting
        label="Begins with the number"
        value={start}
        least={0}
        most={9_999}
        whole
        change={(number) => number !== null && change(number)}
        hint={
          next === start
            ? 'It goes on from the list before it and keeps doing so.'
            : next === null
              ? undefined
              : 'It stands by itself.'
        }
      />
      <div className="setting-acts">
        {next !== null && next !== start && (
          <Button size="sm" variant="outline-dark" onClick={() => change(next)}>
            Go on with {next}
          </Button>
        )}
        {next === start && start !== 1 && (
          <Button size="sm" variant="outline-dark" onClick={() => change(1)}>
            Begin with 1
          </Button>
        )}
      </div>
    </section>
  )
}
