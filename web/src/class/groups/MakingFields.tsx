import type { RosterColumn } from '@gavrin/core'
import { Form } from 'react-bootstrap'
import { type Making, howMany } from './making'

interface Props {
  readonly making: Making
  readonly change: (making: Making) => void
  readonly people: number
  readonly columns: readonly RosterColumn[]
}

/** How groups are made: by size or by number, at random or with columns spread evenly. */
export function MakingFields({ making, change, people, columns }: Props) {
  const count = howMany(making, people)
  const least = count ? Math.floor(people / count) : 0
  const most = count ? Math.ceil(people / count) : 0
  return (
    <>
      <div className="making-line">
        <Form.Select
          aria-label="Make groups by"
          value={making.by}
          onChange={({ target }) => change({ ...making, by: target.value as Making['by'] })}
        >
          <option value="size">Groups of about</option>
          <option value="number">This many groups:</option>
        </Form.Select>
        <Form.Control
          type="number"
          min={1}
          max={200}
          aria-label={making.by === 'size' ? 'Size of a group' : 'Number of groups'}
          value={making.amount || ''}
          onChange={({ target }) => change({ ...making, amount: Math.floor(Number(target.value)) })}
        />
      </div>
      {columns.length > 0 && (
        <fieldset className="mt-2">
          <legend className="form-label">Spread evenly over the groups (nothing: at random)</legend>
          {columns.map(({ id, name }) => (
            <Form.Check
              key={id}
              id={`balance-${id}`}
              label={<bdi>{name}</bdi>}
              checked={making.balance.includes(id)}
              onChange={({ target }) =>
                change({
                  ...making,
                  balance: target.checked ? [...making.balance, id] : making.balance.filter((other) => other !== id),
                })
              }
            />
          ))}
        </fieldset>
      )}
      <p className="soft mt-2 mb-0" role="status">
        {count > 0 && making.amount > 0
          ? `${people} students in ${count} ${count === 1 ? 'group' : 'groups'} of ${least === most ? least : `${least} or ${most}`}.`
          : 'Type a number.'}
      </p>
    </>
  )
}
