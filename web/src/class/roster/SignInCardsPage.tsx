import { fullName } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link, useLocation, useParams } from 'react-router'
import { Loaded } from '../../ui/Loaded'
import { Notice } from '../../ui/Notice'
import { QrCode } from '../../ui/QrCode'
import { api, sentenceOf } from '../../ui/api'
import { rosterKey, useClass, useRoster } from '../queries'
import '../class.css'
import type { Answers, Bodies } from '../../contract'

type SignInCard = Answers['POST classes/{classId}/sign-in-cards'][number]

const cards = (count: number) => `${count} ${count === 1 ? 'card' : 'cards'}`

/** Start passwords for students who cannot sign in yet, to print and cut. They are shown this once. */
export function SignInCardsPage() {
  const { classId = '' } = useParams()
  const client = useQueryClient()
  // Those who were selected in the roster; else everybody who cannot sign in yet.
  const chosen = (useLocation().state as { personIds?: readonly string[] } | null)?.personIds
  const opened = useClass(classId)
  const roster = useRoster(classId)
  const make = useMutation({
    mutationFn: () =>
      api.post<SignInCard[]>(
        `classes/${classId}/sign-in-cards`,
        (chosen ? { personIds: chosen } : {}) satisfies Bodies['POST classes/{classId}/sign-in-cards'],
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: rosterKey(classId) }),
  })
  return (
    <Loaded query={opened}>
      {(found) => (
        <Loaded query={roster}>
          {(students) => {
            // Who has no e-mail can be given a new card at any time: there is no other way to a new password.
            const waiting = students.filter(
              ({ personId, leftAt, canSignIn, email }) =>
                leftAt === null && (chosen ? chosen.includes(personId) && (!canSignIn || !email) : !canSignIn),
            )
            return (
              <main className="page cards-page">
                <div className="page-head no-print">
                  <h1>Sign-in cards</h1>
                  <span className="soft">
                    {found.name}, {found.subject}
                  </span>
                  <span className="page-acts">
                    <Link className="btn btn-link" to={`/class/${classId}`}>
                      Back to the class
                    </Link>
                    {make.data ? (
                      <Button onClick={() => window.print()}>Print {cards(make.data.length)}</Button>
                    ) : (
                      waiting.length > 0 && (
                        <Button onClick={() => make.mutate()} disabled={make.isPending}>
                          {make.isPending ? 'Making cards …' : `Make ${cards(Math.min(waiting.length, 100))}`}
                        </Button>
                      )
                    )}
                  </span>
                </div>
                {make.error && <Notice kind="bad">{sentenceOf(make.error)}</Notice>}
                {make.data ? (
                  <>
                    <div className="no-print">
                      <Notice kind="look">
                        Print these now: the passwords are shown this once and cannot be looked up later.
                      </Notice>
                    </div>
                    <ul className="cards">
                      {make.data.map((card) => (
                        <li key={card.personId}>
                          <QrCode text={location.origin} label="The way to Gavrin" size={74} />
                          <strong dir="auto">{fullName(card)}</strong>
                          <span className="soft">{found.name}</span>
                          <span className="soft">open in a browser</span>
                          <span className="card-address">{location.host}</span>
                          <span className="soft">sign in with</span>
                          <span className="card-name">{card.signInName}</span>
                          <span className="soft">and the password</span>
                          <code>{card.password}</code>
                        </li>
                      ))}
                    </ul>
                  </>
                ) : (
                  <p className="no-print">
                    {waiting.length
                      ? `${waiting.length} ${waiting.length === 1 ? 'student' : 'students'} of ${found.name} ${chosen ? 'chosen in the roster' : 'cannot sign in yet'}. Each card has the name, the web address, what to sign in with (the e-mail, or the class code and a number), and a start password.`
                      : chosen
                        ? 'Those who were chosen can sign in already, and have an e-mail for a new password.'
                        : 'Everybody in this class can sign in already.'}
                  </p>
                )}
              </main>
            )
          }}
        </Loaded>
      )}
    </Loaded>
  )
}
