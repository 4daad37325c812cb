import {
  type ColumnRole,
  type Delimiter,
  type ParsedRoster,
  type RosterReading,
  SINGLE_ROLES,
  type TextEncodingName,
  asksForAddress,
} from '@gavrin/core'
import { Form } from 'react-bootstrap'
import { NameWays } from './NameWays'
import { WhereItStands } from './WhereItStands'
import type { Source, SourceRows } from './source'

const ROLES: Record<ColumnRole, string> = {
  last: 'Last name',
  first: 'First name',
  full: 'Whole name',
  email: 'E-mail',
  number: 'Student number',
  keep: 'kept as a column',
  unused: 'not used',
}
const DELIMITERS: Record<Delimiter, string> = { '\t': 'tabs', ',': 'commas', ';': 'semicolons', '|': 'bars' }
const ENCODINGS: readonly TextEncodingName[] = ['UTF-8', 'UTF-16', 'Windows-1252']

interface Props {
  readonly source: Source
  readonly bring: (source: Source) => void
  readonly table: SourceRows
  readonly parsed: Omit<ParsedRoster, 'entries'>
  readonly reading: RosterReading
  readonly setReading: (reading: RosterReading) => void
  /** Rows that were left out by hand, and a way to have one back. */
  readonly byHand: readonly number[]
  readonly takeBack: (line: number) => void
}

/** What was guessed about a list, each guess to be changed. */
export function ReadingChoices({ source, bring, table, parsed, reading, setReading, byHand, takeBack }: Props) {
  const { values } = parsed
  const chosenClass = reading.only
  const samplesOf = (column: number) =>
    parsed.sample
      .map((row) => row[column])
      .filter(Boolean)
      .slice(0, 3)
      .join(' · ')
  const pickRole = (column: number, chosen: ColumnRole) =>
    setReading({
      ...reading,
      heading: parsed.heading,
      ...(chosen === 'email' && { ownAddress: column }),
      roles: parsed.roles.map((other, index) =>
        index === column ? chosen : other === chosen && SINGLE_ROLES.includes(chosen) ? 'unused' : other,
      ),
    })
  const takeAddress = (column: number) =>
    setReading({
      ...reading,
      heading: parsed.heading,
      ownAddress: column,
      roles: parsed.roles.map((role, index) =>
        index === column ? 'email' : role === 'email' ? (parsed.heading === null ? 'unused' : 'keep') : role,
      ),
    })
  const filterable = values
    .map((found, column) => ({ found, column }))
    .filter(({ found, column }) => found.length > 1 && ['keep', 'unused'].includes(parsed.roles[column]!))
  return (
    <div className="reading">
      {parsed.addresses.length > 1 && (
        <fieldset className={asksForAddress(parsed, reading) ? 'own-address asks' : 'own-address'}>
          <legend>Which addresses are the students’ own?</legend>
          {[...parsed.addresses, -1].map((column) => (
            <Form.Check
              key={column}
              type="radio"
              name="own-address"
              id={`own-address-${column}`}
              checked={reading.ownAddress === column}
              onChange={() => takeAddress(column)}
              label={
                column < 0 ? (
                  'none of them: the students have no e-mail'
                ) : (
                  <>
                    {parsed.headings[column]} <span className="soft">{samplesOf(column)}</span>
                    {parsed.roles[column] === 'email' && <b> – as shown beside</b>}
                  </>
                )
              }
            />
          ))}
        </fieldset>
      )}
      <div className="reading-line">
        {source.kind === 'workbook' && source.tables.length > 1 && (
          <Form.Group controlId="sheet">
            <Form.Label>Sheet</Form.Label>
            <Form.Select
              size="sm"
              value={source.sheet}
              onChange={({ target }) => {
                setReading({})
                bring({ ...source, sheet: Number(target.value) })
              }}
            >
              {source.tables.map(({ name, rows }, at) => (
                <option key={at} value={at}>
                  {name} ({rows.length} rows)
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        {source.kind === 'text file' && (
          <Form.Group controlId="encoding">
            <Form.Label>Letters look wrong? Read them as</Form.Label>
            <Form.Select
              size="sm"
              value={table.encoding}
              onChange={({ target }) => bring({ ...source, encoding: target.value as TextEncodingName })}
            >
              {ENCODINGS.map((encoding) => (
                <option key={encoding}>{encoding}</option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        {(source.kind === 'pasted' || source.kind === 'text file') && (
          <Form.Group controlId="delimiter">
            <Form.Label>Columns are separated by</Form.Label>
            <Form.Select
              size="sm"
              value={table.delimiter}
              onChange={({ target }) => {
                setReading({})
                bring({ ...source, delimiter: target.value as Delimiter })
              }}
            >
              {Object.entries(DELIMITERS).map(([value, word]) => (
                <option key={value} value={value}>
                  {word}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
      </div>
      <WhereItStands
        rows={table.rows}
        parsed={parsed}
        reading={reading}
        setReading={setReading}
        byHand={byHand}
        takeBack={takeBack}
      />
      {parsed.parting && (
        <NameWays
          parting={parsed.parting}
          choose={(nameWay) => setReading({ ...reading, heading: parsed.heading, nameWay })}
        />
      )}
      {filterable.length > 0 && (
        <div className="reading-line">
          <Form.Group controlId="only-column">
            <Form.Label>Only rows where</Form.Label>
            <Form.Select
              size="sm"
              value={chosenClass?.column ?? ''}
              onChange={({ target }) => {
                const { only: _, ...rest } = reading
                const column = Number(target.value)
                setReading(
                  target.value === ''
                    ? rest
                    : {
                        ...rest,
                        only: { column, value: values[column]![0]! },
                        roles: parsed.roles,
                        heading: parsed.heading,
                      },
                )
              }}
            >
              <option value="">all rows</option>
              {filterable.map(({ column }) => (
                <option key={column} value={column}>
                  {parsed.headings[column]} is
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          {chosenClass && (
            <Form.Select
              size="sm"
              aria-label="this value"
              value={chosenClass.value}
              onChange={({ target }) => setReading({ ...reading, only: { ...chosenClass, value: target.value } })}
            >
              {values[chosenClass.column]!.map((value) => (
                <option key={value}>{value}</option>
              ))}
            </Form.Select>
          )}
        </div>
      )}
      <table className="columns-read">
        <caption>Columns, with what stands in the first rows</caption>
        <tbody>
          {parsed.roles.map((role, column) => (
            <tr key={column}>
              <th scope="row">
                {parsed.headings[column]}
                <span className="column-sample">{samplesOf(column)}</span>
              </th>
              <td>
                <Form.Select
                  size="sm"
                  aria-label={`Column ${parsed.headings[column]} holds`}
                  value={role}
                  onChange={({ target }) => pickRole(column, target.value as ColumnRole)}
                >
                  {Object.entries(ROLES).map(([value, word]) => (
                    <option key={value} value={value}>
                      {word}
                    </option>
                  ))}
                </Form.Select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
