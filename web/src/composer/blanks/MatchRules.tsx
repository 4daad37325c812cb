import { type MatchRule, type Matching, findRef } from '@gavrin/core'
import { Button, Form } from 'react-bootstrap'
import { Blank } from '../Blank'
import { WorksheetMenu, worksheetWords } from './WorksheetBlank'
import { type BlankProps, columnsOf, groupSetsOf, groupsOf, isSameWord, valuesOf, withChosen } from './slip'

/** A table of who gets which worksheet, by what stands in a column or by group. */
export function MatchRules({ item, facts, alter }: BlankProps) {
  const { match } = item
  const columns = columnsOf(facts)
  const sets = groupSetsOf(facts)
  const begin = (by: Matching['by'], id: string) => {
    const of = (by === 'column' ? columns : sets).find((candidate) => candidate.id === id)
    if (of) alter({ match: { by, of: { id: of.id, name: of.name }, rules: [] } })
  }
  if (!match) {
    const [column] = columns
    const [set] = sets
    if (!column && !set) return null
    return (
      <Button variant="link" size="sm" onClick={() => (column ? begin('column', column.id) : begin('group', set!.id))}>
        Different worksheets for some
      </Button>
    )
  }
  const there = match.by === 'column' ? valuesOf(facts, match.of) : groupsOf(facts, match.of)
  const values = withChosen(
    there,
    match.rules.map(({ is }) => is),
  )
  const known = findRef(match.by === 'column' ? columns : sets, match.of)
  const ruleFor = (value: string) => match.rules.find(({ is }) => isSameWord(is, value))
  const setRule = (value: string, rule: MatchRule | null) =>
    alter({
      match: {
        ...match,
        rules: [...match.rules.filter(({ is }) => !isSameWord(is, value)), ...(rule ? [rule] : [])],
      },
    })
  return (
    <div className="match-rules">
      <label>
        Different worksheets by{' '}
        <Form.Select
          size="sm"
          value={known ? `${match.by} ${known.id}` : ''}
          onChange={({ target }) => {
            const [by, id] = target.value.split(' ') as [Matching['by'], string]
            begin(by, id)
          }}
        >
          {!known && <option value="">{match.of.name} (not in this class)</option>}
          {columns.map(({ id, name }) => (
            <option key={id} value={`column ${id}`}>
              {name}
            </option>
          ))}
          {sets.map(({ id, name }) => (
            <option key={id} value={`group ${id}`}>
              groups of {name}
            </option>
          ))}
        </Form.Select>
      </label>
      <Button variant="link" size="sm" onClick={() => alter({ match: null })}>
        The same for all
      </Button>
      <table>
        <tbody>
          {values.map((value) => {
            const rule = ruleFor(value)
            const worksheet = facts.worksheets.find(({ id }) => id === rule?.worksheetId)
            return (
              <tr key={value}>
                <th scope="row">
                  <bdi>{value}</bdi>
                  {!there.includes(value) && <span className="soft"> nobody here</span>}
                </th>
                <td>
                  <Blank
                    label={`Worksheet for ${value}: ${worksheet ? worksheetWords(worksheet) : 'the one for all others'}`}
                    value={worksheet ? <bdi>{worksheetWords(worksheet)}</bdi> : 'the one for all others'}
                  >
                    <WorksheetMenu
                      worksheets={facts.worksheets}
                      chosenId={rule?.worksheetId ?? null}
                      choose={(worksheetId, edition) =>
                        edition !== null && setRule(value, { is: value, worksheetId, edition })
                      }
                    />
                  </Blank>
                  {rule && (
                    <Button
                      variant="link"
                      size="sm"
                      aria-label={`No rule for ${value}`}
                      onClick={() => setRule(value, null)}
                    >
                      ×
                    </Button>
                  )}
                </td>
              </tr>
            )
          })}
          <tr>
            <th scope="row">all others</th>
            <td>
              {worksheetWords(facts.worksheets.find(({ id }) => id === item.worksheetId))}
              {item.worksheetId === null ? ' (none: they are left out)' : ''}
              {item.worksheetId !== null && (
                <Button variant="link" size="sm" onClick={() => alter({ worksheetId: null, edition: null })}>
                  Leave them out
                </Button>
              )}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  )
}
