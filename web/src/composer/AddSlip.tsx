import { type HandoutItem, plainItem, withWay } from '@gavrin/core'
import { Button } from 'react-bootstrap'
import type { WholeProps } from './blanks/slip'

/** Adds another sentence to the handout. */
export function AddSlip({ statement, facts, change }: WholeProps) {
  const add = (alteration: (item: HandoutItem) => HandoutItem) => {
    const id = `s${crypto.randomUUID().slice(0, 8)}`
    change({ ...statement, items: [...statement.items, alteration(plainItem(id, null, null))] })
  }
  const link = facts.worksheets.find(({ builtIn }) => builtIn === 'link')
  return (
    <p className="add-slips">
      <Button variant="link" onClick={() => add((item) => item)}>
        Add a worksheet
      </Button>
      <Button variant="link" onClick={() => add((item) => withWay(item, 'to read', []))}>
        Add something to read
      </Button>
      {link && (
        <Button
          variant="link"
          onClick={() => add((item) => ({ ...withWay(item, 'to read', []), link: { address: '', title: '' } }))}
        >
          Add a link
        </Button>
      )}
    </p>
  )
}
