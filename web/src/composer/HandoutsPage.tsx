import { mayInClass } from '@gavrin/core'
import { useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { useClass } from '../class/queries'
import { Loaded } from '../ui/Loaded'
import { StateBar } from '../ui/StateBar'
import { exactTime, timeInWords } from '../ui/time'
import { type HandoutListed, useHandouts } from './queries'
import './composer.css'

/** The handouts of a class, the newest first. */
export function HandoutsPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const handouts = useHandouts(classId)
  useEffect(() => {
    document.title = 'Handouts – Gavrin'
  }, [])
  return (
    <main className="page">
      <Loaded query={opened}>
        {(found) => (
          <>
            <div className="page-head">
              <h1>Handouts</h1>
              <span className="soft">
                {found.name}, {found.subject}
              </span>
            </div>
            <Loaded query={handouts}>
              {(list) =>
                list.length === 0 ? (
                  <div className="empty">
                    <h2>Nothing handed out yet</h2>
                    <p>
                      A handout is one sentence: this worksheet, to these students. You see every copy before it is
                      made.
                    </p>
                    {mayInClass(found.role, 'hand out').may && (
                      <Link className="btn btn-primary" to={`/class/${classId}/slip`}>
                        Write the first slip
                      </Link>
                    )}
                  </div>
                ) : (
                  <table className="grid handouts">
                    <thead>
                      <tr>
                        <th className="n" scope="col">
                          No.
                        </th>
                        <th scope="col">Handout</th>
                        <th scope="col">Due</th>
                        <th scope="col">Copies</th>
                      </tr>
                    </thead>
                    <tbody>
                      {list.map((handout) => (
                        <HandoutRow key={handout.id} classId={classId} handout={handout} />
                      ))}
                    </tbody>
                  </table>
                )
              }
            </Loaded>
          </>
        )}
      </Loaded>
    </main>
  )
}

function HandoutRow({ classId, handout }: { classId: string; handout: HandoutListed }) {
  const draft = handout.handedOutAt === null
  return (
    <tr>
      <td className="n slab">{handout.number}</td>
      <td>
        <Link className="row-link" to={`/class/${classId}/${draft ? 'slip' : 'handouts'}/${handout.id}`}>
          {handout.title || 'No title yet'}
        </Link>
        {draft && <span className="tag">draft</span>}
        {handout.mended && <span className="tag tag-warn">slip edited, not handed out yet</span>}
        {handout.unit && (
          <span className="soft handout-unit">
            <bdi>{handout.unit}</bdi>
          </span>
        )}
      </td>
      <td>
        {handout.opensAt !== null && handout.opensAt > Date.now() && (
          <span className="soft">opens {timeInWords(handout.opensAt)}, due </span>
        )}
        {handout.dueAt === null ? (
          <span className="soft">no due time</span>
        ) : (
          <span title={exactTime(handout.dueAt)}>{timeInWords(handout.dueAt)}</span>
        )}
      </td>
      <td className="bar-cell">
        {draft ? <span className="soft">not handed out</span> : <StateBar states={handout.states} words />}
      </td>
    </tr>
  )
}
