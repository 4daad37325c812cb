import { markInWords } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import './marksMoved.css'

export type OtherMarks = Bodies['POST handouts/{handoutId}/marks/proof']

interface Props {
  readonly handoutId: string
  /** How copies would be marked, and what they would be of and due. */
  readonly wish: OtherMarks
  /** What it is that does something to marks, as the beginning of a sentence. */
  readonly why: string
}

/** What something does to the marks that were given: said before it is done. */
export function MarksMoved({ handoutId, wish, why }: Props) {
  const asked = useQuery({
    queryKey: ['marks proof', handoutId, wish],
    queryFn: () =>
      api.post<Answers['POST handouts/{handoutId}/marks/proof']>(`handouts/${handoutId}/marks/proof`, wish),
    staleTime: 0,
    placeholderData: (before) => before,
  })
  if (asked.error) return <Notice kind="look">What it does to marks cannot be said: {sentenceOf(asked.error)}</Notice>
  if (!asked.data || asked.data.of === 0) return null
  const { of, moved } = asked.data
  const open = moved.filter(({ isOpenAgain }) => isOpenAgain).length
  const uncounted = moved.reduce((sum, one) => sum + one.uncounted, 0)
  if (moved.length === 0)
    return (
      <p className="proof-parts soft">
        {why}: {of === 1 ? 'the mark that was given stays' : `the ${of} marks that were given stay`} as{' '}
        {of === 1 ? 'it is' : 'they are'}.
      </p>
    )
  return (
    <Notice kind="look">
      <details className="marks-proof">
        <summary>
          {why}: {moved.length} of {of} {of === 1 ? 'mark' : 'marks'} {moved.length === 1 ? 'changes' : 'change'}
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
