import { useQuery } from '@tanstack/react-query'
import { Link, Navigate, useParams, useSearchParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { api } from '../ui/api'
import { timeInWords } from '../ui/time'
import '../student/student.css'
import type { Answers } from '../contract'

type ClassLink = Answers['GET handouts/{handoutId}/mine']

/** One address for all: it leads each person to their own copy, and staff to the board. */
export default function ClassLinkPage() {
  const { handoutId = '' } = useParams()
  const [search] = useSearchParams()
  const withOthers = search.has('others')
  const query = useQuery({
    queryKey: ['class link', handoutId],
    queryFn: () => api.get<ClassLink>(`handouts/${handoutId}/mine`),
    staleTime: 0,
  })
  return (
    <Loaded query={query}>
      {({ classId, title, board, opensAt, copies, others }) => {
        if (board) return <Navigate replace to={`/class/${classId}/handouts/${handoutId}`} />
        const work = copies.filter(({ way }) => way !== 'to read')
        const [only] = work.length > 0 ? work : copies
        if (only && copies.length <= 1 && !withOthers) return <Navigate replace to={`/copies/${only.id}`} />
        return (
          <main className="page class-link">
            <h1>
              <bdi>{title}</bdi>
            </h1>
            {copies.length === 0 ? (
              <p>
                {opensAt !== null
                  ? `This opens ${timeInWords(opensAt)}.`
                  : 'There is no copy of this for you. Ask your teacher whether you should have one.'}{' '}
                <Link to="/">Go to my desk</Link>
              </p>
            ) : (
              <ul className="class-link-list">
                {copies.map((copy) => (
                  <li key={copy.id}>
                    <Link to={`/copies/${copy.id}`}>
                      <bdi>{copy.title}</bdi>
                    </Link>{' '}
                    {copy.way === 'to read' && <span className="soft">to read</span>}
                  </li>
                ))}
              </ul>
            )}
            {others.length > 0 && (
              <>
                <h2>Copies of the others</h2>
                <ul className="class-link-list">
                  {others.map((copy) => (
                    <li key={copy.id}>
                      <Link to={`/copies/${copy.id}`}>
                        <bdi>{copy.title}</bdi>
                      </Link>
                    </li>
                  ))}
                </ul>
              </>
            )}
          </main>
        )
      }}
    </Loaded>
  )
}
