import {
  type AnswerSpace,
  type FormulaResult,
  type TableBlock,
  cellName,
  newAnswerDoc,
  placeCells,
  readAnswer,
  workOutTable,
} from '@gavrin/core'
import { type ReactNode, useEffect, useMemo, useState } from 'react'
import { RichText } from './RichText'
import { useSheet } from './surroundings'

interface Props {
  readonly table: TableBlock
  readonly answer: (space: AnswerSpace) => ReactNode
}

/** A table: print, places to write in, and what the formulas come to as they are filled in. */
export function SheetTable({ table, answer }: Props) {
  const results = useResults(table)
  const places = useMemo(
    () => new Map(placeCells(table).map(({ cell, row, column }) => [cell, cellName(row, column)])),
    [table],
  )
  return (
    <div className="sheet-table" role="group" tabIndex={-1}>
      <table>
        <tbody>
          {table.rows.map((row, down) => (
            <tr key={down}>
              {row.map((cell, at) => {
                const Cell = cell.head ? 'th' : 'td'
                return (
                  <Cell key={at} colSpan={cell.across} rowSpan={cell.down}>
                    {cell.space
                      ? answer(cell.space)
                      : cell.formula !== null
                        ? formulaCell(results?.get(places.get(cell)!) ?? null, cell.formula)
                        : cell.rich.map((node, index) => <RichText key={index} node={node} gap={answer} />)}
                  </Cell>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function formulaCell(result: FormulaResult | null, formula: string): ReactNode {
  if (!result) return <span className="formula-cell">= {formula}</span>
  if (result.is === 'number') return <output className="formula-cell filled">{result.words}</output>
  return (
    <output className="formula-cell" title={result.is === 'wrong' ? result.sentence : `= ${formula}`}>
      {result.is === 'wrong' ? <span className="bad">{result.sentence}</span> : '–'}
    </output>
  )
}

/** What the formulas come to now; null where there are no answers, or no formulas. */
function useResults(table: TableBlock): Map<string, FormulaResult> | null {
  const { docOf } = useSheet()
  const spaces = useMemo(() => table.rows.flatMap((row) => row.flatMap(({ space }) => (space ? [space] : []))), [table])
  const hasFormulas = useMemo(() => table.rows.some((row) => row.some(({ formula }) => formula !== null)), [table])
  const [changes, setChanges] = useState(0)
  useEffect(() => {
    if (!docOf || !hasFormulas) return
    const changed = () => setChanges((count) => count + 1)
    const docs = spaces.map(({ id }) => docOf(id))
    docs.forEach((doc) => doc.on('update', changed))
    changed()
    return () => docs.forEach((doc) => doc.off('update', changed))
  }, [docOf, hasFormulas, spaces])
  return useMemo(() => {
    if (!docOf || !hasFormulas) return null
    return workOutTable(table, (id) => {
      const space = spaces.find((one) => one.id === id)
      const value = space ? readAnswer(space, docOf(id) ?? newAnswerDoc('cell')) : null
      return value && 'text' in value ? value.text : ''
    })
    // `changes` counts what was written: the documents themselves stay the same.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [table, docOf, hasFormulas, spaces, changes])
}
