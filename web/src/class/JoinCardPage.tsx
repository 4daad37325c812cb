import { Button } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { QrCode } from '../ui/QrCode'
import { joinAddress, spokenCode, useJoinPage } from './JoinSettingsPage'
import { useClass } from './queries'
import './class.css'

/** The class code, large enough for the board, and a clean page when printed. */
export function JoinCardPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const page = useJoinPage(classId)
  return (
    <Loaded query={opened}>
      {(found) => (
        <Loaded query={page}>
          {({ code }) => (
            <main className="page join-card">
              <p className="no-print join-card-acts">
                <Link className="btn btn-link" to={`/class/${classId}/join`}>
                  Back to the join page
                </Link>
                <Button variant="outline-dark" onClick={() => window.print()}>
                  Print
                </Button>
              </p>
              <h1>
                {found.name}, {found.subject}
              </h1>
              <p>Open this address, or point a phone at the square:</p>
              <p className="join-card-address">
                {joinAddress('')
                  .replace(/^https?:\/\//, '')
                  .replace(/\/$/, '')}
              </p>
              <p>and type the class code</p>
              <p className="join-code">{spokenCode(code)}</p>
              <QrCode text={joinAddress(code)} label={`Join page of ${found.name}`} size={300} />
            </main>
          )}
        </Loaded>
      )}
    </Loaded>
  )
}
