import { type Change, type Statement, isSame } from '@gavrin/core'
import { useMemo } from 'react'
import { MarksMoved, type OtherMarks } from '../marking/MarksMoved'

interface Props {
  readonly handoutId: string
  /** As the copies are marked now. */
  readonly given: Statement
  readonly statement: Statement
  /** What handing out would change. */
  readonly changes: readonly Change[]
}

const marking = ({ marking: kind, rubric, lateDeduction }: Statement) => ({ marking: kind, rubric, lateDeduction })

/** What marking in another way, another edition or another due time does to the marks that were given. */
export function MarksProof({ handoutId, given, statement, changes }: Props) {
  const isOther = !isSame(marking(given), marking(statement))
  const wish = useMemo((): OtherMarks => {
    const { marking: kind, rubric, lateDeduction } = marking(statement)
    return {
      // As it is written down: the server reads it as it reads a slip.
      ...(isOther && { marking: kind, rubric: [...rubric], lateDeduction }),
      copies: changes.flatMap((change): NonNullable<OtherMarks['copies']> => {
        const { slotKey } = change
        if (change.kind === 'date') return [{ slotKey, dueAt: change.dueAt }]
        if (change.kind !== 'move' || change.worksheetId === null || change.edition === null) return []
        return [{ slotKey, worksheetId: change.worksheetId, edition: change.edition }]
      }),
    }
  }, [isOther, statement, changes])
  const are = (kind: Change['kind']) => changes.some((change) => change.kind === kind)
  const why = [isOther && 'another way of marking', are('move') && 'another edition', are('date') && 'another due time']
    .filter((one) => one !== false)
    .join(', ')
  return why === '' ? null : <MarksMoved handoutId={handoutId} wish={wish} why={`By ${why}`} />
}
