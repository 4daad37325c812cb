import { type MarkBack, markInWords, pointsInWords } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import type { CopyPageData } from './queries'
import './handedBack.css'

/** What a student got back with a copy: the mark and what it is made of, and what their teacher says of it. */
export function HandedBack({
  data,
  isOpen,
  now,
}: {
  readonly data: CopyPageData
  /** It can be written in again. */
  readonly isOpen: boolean
  readonly now: number
}) {
  const client = useQueryClient()
  const { handedBack: back, id } = data
  const isNew = back !== null && back.lookedAt === null
  useEffect(() => {
    if (!isNew) return
    // Seen, and not only fetched.
    const look = () => {
      if (document.hidden) return
      document.removeEventListener('visibilitychange', look)
      void api
        .post(`copies/${id}/handed-back/looked`)
        .then(() => client.invalidateQueries({ queryKey: ['mine'] }))
        .catch(() => undefined)
    }
    document.addEventListener('visibilitychange', look)
    look()
    return () => document.removeEventListener('visibilitychange', look)
  }, [isNew, id, client])
  if (!back) return null
  const { mark, message, at } = back
  return (
    <section className="handed-back" aria-label="Handed back">
      <div className="handed-back-head">
        <Whole mark={mark} />
        <span className="soft" title={exactTime(at)}>
          handed back {timeInWords(at, now)}
        </span>
      </div>
      {isOpen && <p className="handed-back-again">It is open again: improve it, and submit it once more.</p>}
      {message && <p className="handed-back-words">{message}</p>}
      {mark.remark && mark.remark !== message && <p className="handed-back-words">{mark.remark}</p>}
      {mark.rubric.length > 0 && (
        <table className="handed-back-rubric">
          <tbody>
            {mark.rubric.map(({ name, level, points, most }, at_) => (
              <tr key={at_}>
                <th scope="row">
                  <bdi>{name}</bdi>
                </th>
                <td>{level && <bdi>{level}</bdi>}</td>
                <td className="n slab">
                  {points === null ? '–' : pointsInWords(points)} <span className="soft">of {pointsInWords(most)}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {(mark.adjustments.length > 0 || mark.late < 0) && (
        <ul className="handed-back-more">
          {mark.adjustments.map(({ points, reason }) => (
            <li key={`${points} ${reason}`}>
              <span className="slab">
                {points > 0 && '+'}
                {pointsInWords(points)}
              </span>{' '}
              <bdi>{reason}</bdi>
            </li>
          ))}
          {mark.late < 0 && (
            <li>
              <span className="slab">{pointsInWords(mark.late)}</span> it came late
            </li>
          )}
        </ul>
      )}
    </section>
  )
}

function Whole({ mark }: { readonly mark: MarkBack }) {
  if (mark.excused || mark.step !== null || mark.total === null || mark.most === null)
    return mark.kind === 'remark' && !mark.excused ? (
      <h2>Read by your teacher</h2>
    ) : (
      <h2 className="slab">
        <bdi>{markInWords(mark)}</bdi>
        {mark.step !== null && mark.total !== null && mark.most !== null && (
          <span className="soft">
            {' '}
            {pointsInWords(mark.total)} of {pointsInWords(mark.most)}
          </span>
        )}
      </h2>
    )
  return (
    <h2 className="slab">
      {pointsInWords(mark.total)} <span className="soft">of {pointsInWords(mark.most)}</span>
    </h2>
  )
}

/** The points that an answer got, under it. */
export function PointsBack({ data, space }: { readonly data: CopyPageData; readonly space: string }) {
  const got = data.handedBack?.mark.spaces[space]
  if (!got) return null
  const share = got.points === got.most ? 'all' : got.points === 0 ? 'none' : 'part'
  return (
    <span className={`points-back points-${share}`}>
      <span className="slab">{pointsInWords(got.points)}</span> of {pointsInWords(got.most)}
    </span>
  )
}
