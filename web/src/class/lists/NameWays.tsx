import { NAME_WAYS, type NameParting, type NameWay } from '@gavrin/core'
import { Form } from 'react-bootstrap'

const WAYS: Record<NameWay, string> = {
  'first last': 'first name, last name',
  'last first': 'last name, first name',
  capitals: 'last name in capitals',
}

interface Props {
  readonly parting: NameParting
  readonly choose: (way: NameWay) => void
}

/** How the names of a column are parted: said once, with what becomes of the first and the hardest of them. */
export function NameWays({ parting: { way, count, preview }, choose }: Props) {
  return (
    <fieldset className="name-ways">
      <legend>{count === 1 ? 'One name stands' : `${count} names stand`} in one cell</legend>
      <Form.Select
        size="sm"
        aria-label="In one cell stand"
        value={way}
        onChange={({ target }) => choose(target.value as NameWay)}
      >
        {NAME_WAYS.map((one) => (
          <option key={one} value={one}>
            {WAYS[one]}
          </option>
        ))}
      </Form.Select>
      <table>
        <thead>
          <tr>
            <th scope="col">in the list</th>
            <th scope="col">Last name</th>
            <th scope="col">First name</th>
          </tr>
        </thead>
        <tbody>
          {preview.map(({ cell, last, first, isGuess }, at) => (
            <tr key={at}>
              <td className="soft">
                <bdi>{cell}</bdi>
              </td>
              <td className={isGuess ? 'warn' : undefined}>
                <bdi>{last}</bdi>
              </td>
              <td className={isGuess ? 'warn' : undefined}>
                <bdi>{first}</bdi>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </fieldset>
  )
}
