import { fullName, listName } from '@gavrin/core'
import { Button } from 'react-bootstrap'
import { Link, useParams, useSearchParams } from 'react-router'
import { Loaded } from '../../ui/Loaded'
import { NotHere } from '../../frame/NotHere'
import { WithClass } from '../WithClass'
import { useGroupSets } from '../queries'
import './groups.css'

/** The groups of a set as a clean page to print. */
export function GroupListsPage() {
  const { classId = '' } = useParams()
  const [params] = useSearchParams()
  const sets = useGroupSets(classId)
  return (
    <WithClass>
      {(opened, students) => (
        <Loaded query={sets}>
          {(found) => {
            const set = found.find(({ id }) => id === params.get('set'))
            if (!set) return <NotHere />
            const byId = new Map(
              students.filter(({ leftAt }) => leftAt === null).map((student) => [student.personId, student]),
            )
            return (
              <main className="page print-page">
                <div className="page-head">
                  <h1>{set.name}</h1>
                  <span className="soft">
                    {opened.name}, {opened.subject} {opened.year}
                  </span>
                  <span className="page-acts no-print">
                    <Link className="btn btn-link" to={`/class/${classId}/groups?set=${set.id}`}>
                      Back to the groups
                    </Link>
                    <Button onClick={() => window.print()}>Print</Button>
                  </span>
                </div>
                <div className="group-lists">
                  {set.groups.map((group) => (
                    <section key={group.id}>
                      <h2>
                        <bdi>{group.name}</bdi>
                      </h2>
                      <ol>
                        {group.personIds
                          .flatMap((id) => byId.get(id) ?? [])
                          .toSorted((a, b) => listName(a).localeCompare(listName(b)))
                          .map((student) => (
                            <li key={student.personId}>
                              <bdi>{fullName(student)}</bdi>
                            </li>
                          ))}
                      </ol>
                    </section>
                  ))}
                </div>
              </main>
            )
          }}
        </Loaded>
      )}
    </WithClass>
  )
}
