import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link, useLocation, useNavigate } from 'react-router'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import { type ClassOpened, type Student, classKey } from '../queries'
import type { Answers, Bodies } from '../../contract'

/** What saving a list came to, carried to the class it was saved in. */
export type SavedList = Answers['POST classes/{classId}/roster']

/** Who can be invited by mail: has an e-mail, cannot sign in, and was not invited yet. */
export const invitable = (students: readonly Student[]) =>
  students.filter(({ leftAt, canSignIn, email, invitedAt }) => leftAt === null && !canSignIn && email && !invitedAt)

/** Who needs a card: cannot sign in and has no e-mail. */
export const needCards = (students: readonly Student[]) =>
  students.filter(({ leftAt, canSignIn, email }) => leftAt === null && !canSignIn && !email)

const people = (count: number) => `${count} ${count === 1 ? 'student' : 'students'}`

/** Invites students by mail. */
export function useInvite(classId: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (students: readonly Student[]) =>
      api.post<Answers['POST classes/{classId}/invitations']>(`classes/${classId}/invitations`, {
        personIds: students.map(({ personId }) => personId),
      } satisfies Bodies['POST classes/{classId}/invitations']),
    onSuccess: () => client.invalidateQueries({ queryKey: classKey(classId) }),
  })
}

interface Props {
  readonly opened: ClassOpened
  readonly students: readonly Student[]
  readonly invite: ReturnType<typeof useInvite>
}

/** After a list was saved: what came of it, and how those who cannot sign in yet get in. */
export function InviteNext({ opened, students, invite }: Props) {
  const navigate = useNavigate()
  const { state, pathname } = useLocation() as { state: { saved?: SavedList } | null; pathname: string }
  const saved = state?.saved
  const withMail = invitable(students)
  const withCards = needCards(students)
  if (!saved && invite.isIdle) return null
  const said =
    saved &&
    [
      saved.added > 0 && `${people(saved.added)} added`,
      saved.changed > 0 && `${saved.changed} changed`,
      saved.back > 0 && `${saved.back} taken back in`,
      saved.left > 0 && `${saved.left} removed`,
    ].filter(Boolean)
  return (
    <Notice kind="plain">
      {said && (
        <b>{said.length > 0 ? `The list is saved: ${said.join(', ')}.` : 'The list is saved: all was as before.'} </b>
      )}
      {withMail.length > 0 && (
        <>
          {people(withMail.length)} with an e-mail cannot sign in yet.{' '}
          <Button size="sm" disabled={invite.isPending} onClick={() => invite.mutate(withMail)}>
            {invite.isPending ? 'One moment …' : `Invite ${withMail.length} by mail`}
          </Button>{' '}
        </>
      )}
      {invite.data && (
        <span role="status">
          {invite.data.invited} {invite.data.invited === 1 ? 'invitation goes' : 'invitations go'} out by mail; the{' '}
          <Link to={`/class/${opened.id}/mailroom`}>mailroom</Link> shows how.{' '}
        </span>
      )}
      {invite.error && <span className="bad">{sentenceOf(invite.error)} </span>}
      {withCards.length > 0 && (
        <>
          {people(withCards.length)} without an e-mail {withCards.length === 1 ? 'gets' : 'get'} in with a{' '}
          <Link to={`/class/${opened.id}/cards`} state={{ personIds: withCards.map(({ personId }) => personId) }}>
            card to print
          </Link>
          .{' '}
        </>
      )}
      <Button
        variant="link"
        onClick={() => {
          invite.reset()
          void navigate(pathname, { replace: true, state: null })
        }}
      >
        Close
      </Button>
    </Notice>
  )
}
