import { type Statement, isSame, markInWords } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'

interface Props {
  readonly handoutId: string
  /** As the copies are marked now. */
  readonly given: Statement
  readonly statement: Statement
}

const marking = ({ marking: kind, rubric, lateDeduction }: Statement) => ({ marking: kind, rubric, lateDeduction })

/** What marking in another way does to the marks that were given: said before it is done. */
export function MarksProof({ handoutId, given, statement }: Props) {
  const wish = marking(statement)
  const isOther = !isSame(marking(given), wish)
  const asked = useQuery({
    queryKey: ['marks proof', handoutId, wish],
    queryFn: () =>
      api.post<Answers['POST handouts/{handoutId}/marks/proof']>(
        `handouts/${handoutId}/marks/proof`,
        // As it is written down: the server reads it as it reads a slip.
        {
          marking: wish.marking,
          rubric: [...wish.rubric],
          lateDeduction: wish.lateDeduction,
        } satisfies Bodies['POST handouts/{handoutId}/marks/proof'],
      ),
    enabled: isOther,
    staleTime: 0,
    placeholderData: (before) => before,
  })
  if (!isOther) return null
  if (asked.error) return <Notice kind="look">What it does to marks cannot be said: {sentenceOf(asked.error)}</Notice>
  if (!asked.data || asked.data.of === 0) return null
  const { of, moved } = asked.data
  const open = moved.filter(({ isOpenAgain }) => isOpenAgain).length
  const uncounted = moved.reduce((sum, one) => sum + one.uncounted, 0)
  if (moved.length === 0)
    return (
      <p className="proof-parts soft">
        It is marked in another way:{' '}
        {of === 1 ? 'the mark that was given stays' : `the ${of} marks that were given stay`} as{' '}
        {of === 1 ? 'it is' : 'they are'}.
      </p>
    )
  return (
    <Notice kind="look">
      <details className="marks-proof">
        <summary>
          It is marked in another way: {moved.length} of {of} {of === 1 ? 'mark' : 'marks'}{' '}
          {moved.length === 1 ? 'changes' : 'change'}
          {uncounted > 0 &&
            `, ${uncounted} ${uncounted === 1 ? 'part no longer counts' : 'parts no longer count'} (kept)`}
          {open > 0 && `, ${open} ${open === 1 ? 'lacks' : 'lack'} a part`}.
        </summary>
        <table>
          <thead>
            <tr>
              <th scope="col">Copy</th>
              <th scope="col">Now</th>
              <th scope="col">Then</th>
            </tr>
          </thead>
          <tbody>
            {moved.map(({ copyId, personId, title, name, before, after, isOpenAgain }) => (
              <tr key={`${copyId} ${personId}`}>
                <td>
                  <bdi>{name ?? title}</bdi>
                </td>
                <td className="slab">{markInWords(before)}</td>
                <td className="slab">
                  {markInWords(after)}
                  {isOpenAgain && <span className="soft"> {after.open} to give</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </Notice>
  )
}
