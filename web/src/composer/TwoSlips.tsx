import { type SlipBlank, type SlipConflict, type SlipText } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import type { SlipFacts } from './blanks/slip'
import { blankLabel, blankWords } from './slipWords'

interface Props {
  readonly slip: SlipText
  readonly facts: SlipFacts
}

/** What somebody else changed in a slip while it was open here, and that stands in it now. */
export function TakenOver({ taken, slip, facts, close }: Props & { taken: readonly SlipBlank[]; close: () => void }) {
  if (taken.length === 0) return null
  return (
    <Notice kind="look">
      Changed meanwhile, in another window or by a colleague, and taken over:{' '}
      <bdi>
        {taken
          .map((blank) => {
            const words = blank.value === null ? '' : blankWords(blank.name, blank.value, facts)
            return `${blankLabel(blank, slip, facts)}${words && `: ${words}`}`
          })
          .join('; ')}
      </bdi>
      .{' '}
      <Button variant="link" size="sm" onClick={close}>
        Seen
      </Button>
    </Notice>
  )
}

/** What both changed, side by side: one of the two is chosen for each, and nothing is kept before. */
export function SettleSlips({
  conflicts,
  slip,
  facts,
  settle,
}: Props & { conflicts: readonly SlipConflict[]; settle: (theirs: readonly SlipConflict[]) => void }) {
  const [theirs, setTheirs] = useState<ReadonlySet<SlipConflict>>(new Set())
  return (
    <section className="two-slips" aria-label="Changed by both">
      <Notice kind="bad">
        Somebody else changed the same in another window. Choose for each; until then nothing is kept or handed out.
      </Notice>
      <table className="grid">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Mine</th>
            <th scope="col">Theirs</th>
          </tr>
        </thead>
        <tbody>
          {conflicts.map((conflict) => {
            const label = blankLabel(conflict, slip, facts)
            const key = `settle-${conflict.name}-${conflict.of ?? ''}`.replaceAll(' ', '-')
            const side = (isTheirs: boolean, value: unknown) => (
              <td>
                <Form.Check
                  type="radio"
                  name={key}
                  id={`${key}-${isTheirs ? 'theirs' : 'mine'}`}
                  aria-label={`${label}: ${isTheirs ? 'theirs' : 'mine'}`}
                  label={<bdi>{blankWords(conflict.name, value, facts)}</bdi>}
                  checked={theirs.has(conflict) === isTheirs}
                  onChange={() => {
                    const next = new Set(theirs)
                    if (isTheirs) next.add(conflict)
                    else next.delete(conflict)
                    setTheirs(next)
                  }}
                />
              </td>
            )
            return (
              <tr key={key}>
                <th scope="row">{label}</th>
                {side(false, conflict.mine)}
                {side(true, conflict.theirs)}
              </tr>
            )
          })}
        </tbody>
      </table>
      <Button size="sm" onClick={() => settle(conflicts.filter((conflict) => theirs.has(conflict)))}>
        Keep the slip like this
      </Button>
    </section>
  )
}
