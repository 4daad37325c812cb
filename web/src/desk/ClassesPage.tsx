import { useEffect, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { NewClass } from '../class/NewClass'
import { type ClassListed, useClasses } from '../class/queries'
import { Loaded } from '../ui/Loaded'

/** All classes of a teacher, those of earlier years too. */
export function ClassesPage() {
  const classes = useClasses()
  const [making, setMaking] = useState(false)
  useEffect(() => {
    document.title = 'Classes – Gavrin'
  }, [])
  return (
    <main className="page">
      <div className="page-head">
        <h1>Classes</h1>
        <span className="page-acts">
          <Button onClick={() => setMaking(true)}>New class</Button>
        </span>
      </div>
      <Loaded query={classes}>
        {(found) => (
          <>
            <Table classes={found.filter(({ archived }) => !archived)} empty="No class yet: make the first one." />
            {found.some(({ archived }) => archived) && (
              <>
                <h2 className="mt-4 mb-2">Archived</h2>
                <Table classes={found.filter(({ archived }) => archived)} empty="" />
              </>
            )}
          </>
        )}
      </Loaded>
      {making && <NewClass close={() => setMaking(false)} />}
    </main>
  )
}

function Table({ classes, empty }: { classes: readonly ClassListed[]; empty: string }) {
  if (classes.length === 0) return <p className="soft">{empty}</p>
  return (
    <table className="grid">
      <thead>
        <tr>
          <th scope="col">Class</th>
          <th scope="col">Subject</th>
          <th scope="col">Year</th>
          <th scope="col" className="n">
            Students
          </th>
          <th scope="col">You</th>
        </tr>
      </thead>
      <tbody>
        {classes.map(({ id, name, subject, year, students, role }) => (
          <tr key={id}>
            <td>
              <Link className="row-link" to={`/class/${id}`}>
                {name}
              </Link>
            </td>
            <td>{subject}</td>
            <td>{year}</td>
            <td className="n">{students}</td>
            <td className="soft">{role}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
