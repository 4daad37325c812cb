import type { CopyState } from '@gavrin/core'
import Button from 'react-bootstrap/Button'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { exactTime, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import type { CopyPageData } from './queries'

/** How long those who share a copy are asked whether it may be submitted, in milliseconds. */
const ASKED = 60_000
/** How long it is said that somebody took it back. */
const SAID = 10 * 60_000

interface Props {
  readonly data: CopyPageData
  readonly state: CopyState
  readonly mayTakeBack: boolean
  readonly takeBack: () => void
  readonly isTaking: boolean
}

/** That a copy is submitted, and by whom; to those who share it at once, with a minute in which each of them can say "not yet". */
export function HandedInNotice({ data, state, mayTakeBack, takeBack, isTaking }: Props) {
  const { handingIn, submittedAt, dueAt, isHolder } = data
  const now = useNow(handingIn ? 1_000 : 30_000)
  const isAsked = handingIn?.kind === 'submitted' && !handingIn.isStaff && now < handingIn.at + ASKED
  if (state === 'submitted' && isAsked && isHolder && mayTakeBack)
    return (
      <div className="handed-in-now">
        <Notice kind="look">
          {handingIn.isSelf ? (
            'You have submitted this copy for all of you. It stands still now; the others are told, and can say “not yet”.'
          ) : (
            <>
              <bdi>{handingIn.by}</bdi> has submitted this copy for all of you. It stands still now. Is something of
              yours still missing?
            </>
          )}{' '}
          <Button size="sm" variant="outline-dark" onClick={takeBack} disabled={isTaking}>
            Not yet: go on writing
          </Button>{' '}
          <span className="soft" aria-hidden="true">
            {Math.max(0, Math.ceil((handingIn.at + ASKED - now) / 1_000))} s
          </span>
        </Notice>
      </div>
    )
  if (state === 'submitted')
    return (
      <Notice kind="plain">
        <SheetMark state="submitted" silent /> Submitted
        {handingIn && (
          <>
            {' '}
            by <bdi>{handingIn.by}</bdi>
          </>
        )}
        {submittedAt !== null && <span title={exactTime(submittedAt)}> {timeInWords(submittedAt, now)}</span>}.{' '}
        {isHolder
          ? mayTakeBack
            ? `It stands still now; you can take it back${dueAt === null ? '' : ' until it is due'}.`
            : 'It stands still now.'
          : null}
      </Notice>
    )
  if (state === 'taken back' && handingIn?.kind === 'taken back' && !handingIn.isSelf && now < handingIn.at + SAID)
    return (
      <div className="handed-in-now">
        <Notice kind="look">
          {handingIn.isStaff ? (
            <>
              <bdi>{handingIn.by}</bdi> has taken this copy back: it is not submitted, and can be written in again.
            </>
          ) : (
            <>
              <bdi>{handingIn.by}</bdi> said “not yet”: this copy is not submitted. Submit it when all of you are done.
            </>
          )}
        </Notice>
      </div>
    )
  return null
}
