import { mentionsIn } from '@gavrin/core'
import { Fragment, type ReactNode, useState } from 'react'
import Button from 'react-bootstrap/Button'
import { sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { CommentForm } from './CommentForm'
import type { CommentShown, PersonNamed, ThreadShown } from './queries'
import type { CommentActs } from './useComments'

interface Props {
  readonly thread: ThreadShown
  /** What it is about, in a few words. */
  readonly about: string
  readonly isGone: boolean
  readonly isChosen: boolean
  readonly choose: () => void
  /** Brings what it is about into view. */
  readonly lookAt: () => void
  readonly acts: CommentActs
  readonly people: readonly PersonNamed[]
  /** Whoever reads this. */
  readonly self: PersonNamed
}

const KINDS = { question: 'Question', comment: 'Comment', remark: 'Remark' } as const

/** What is said of one thing. */
export function ThreadNote({ thread, about, isGone, isChosen, choose, lookAt, acts, people, self }: Props) {
  const [isUnfolded, setUnfolded] = useState(false)
  const [isReplying, setReplying] = useState(false)
  const [problem, setProblem] = useState('')
  const { kind, done, comments, staffOnly, isWaiting, mayReply, mayDo } = thread
  const attempt = (work: Promise<void>) =>
    void work.then(
      () => setProblem(''),
      (error: unknown) => setProblem(sentenceOf(error)),
    )
  const first = comments[0]!
  const place = isGone ? (
    <>
      on words that are gone: <bdi>{about}</bdi>
    </>
  ) : (
    <>
      on <bdi>{about}</bdi>
    </>
  )
  const classes = ['said', kind === 'question' && 'asked', done && 'done', isChosen && 'chosen']
    .filter(Boolean)
    .join(' ')
  if (done && !isUnfolded)
    return (
      <article className={classes} aria-label={`Done with: ${first.name}, ${about}`}>
        <button type="button" className="said-fold" aria-expanded="false" onClick={() => setUnfolded(true)}>
          <span>
            <bdi>{first.name}</bdi> {place}
          </span>
          <span className="soft">
            {timeInWords(done.at)} · done with by <bdi>{done.by}</bdi>
          </span>
        </button>
      </article>
    )
  return (
    <article className={classes} aria-label={`${KINDS[kind]} on ${about}`} onFocus={choose}>
      {kind === 'question' && (
        <div className="said-kind">
          {first.isMine ? 'Your question to the teacher' : 'A question'}
          <span className="soft">{isWaiting ? ' · waits for an answer' : ' · answered'}</span>
        </div>
      )}
      {comments.map((comment, at) => (
        <Said
          key={comment.id}
          comment={comment}
          isReply={at > 0}
          isLast={at === comments.length - 1}
          thread={thread}
          acts={acts}
          people={people}
          self={self}
          attempt={attempt}
        >
          {at === 0 && (
            <>
              <button type="button" className="said-about" onClick={lookAt}>
                {place}
              </button>
              {staffOnly && <span>only the staff see it</span>}
              {kind === 'remark' && first.byStaff && thread.releasedAt === null && <span>not handed back yet</span>}
            </>
          )}
        </Said>
      ))}
      {problem && (
        <div className="bad" role="alert">
          {problem}
        </div>
      )}
      {isReplying ? (
        <CommentForm
          label={kind === 'question' && !thread.isMine ? 'Answer' : 'Say more'}
          send="Send"
          people={people}
          done={(text) => {
            acts.reply(thread.id, text)
            setReplying(false)
          }}
          leave={() => setReplying(false)}
        />
      ) : (
        <div className="said-acts">
          {mayReply && (
            <Button size="sm" variant="link" onClick={() => setReplying(true)}>
              {kind === 'question' && !thread.isMine ? 'Answer' : 'Reply'}
            </Button>
          )}
          {mayDo && (
            <Button size="sm" variant="link" onClick={() => attempt(acts.done(thread.id, done === null))}>
              {done === null ? 'Done with this' : 'Take it up again'}
            </Button>
          )}
          {done && (
            <Button size="sm" variant="link" onClick={() => setUnfolded(false)}>
              Fold
            </Button>
          )}
        </div>
      )}
    </article>
  )
}

interface SaidProps {
  readonly comment: CommentShown
  readonly isReply: boolean
  readonly isLast: boolean
  readonly thread: ThreadShown
  readonly acts: CommentActs
  readonly people: readonly PersonNamed[]
  readonly self: PersonNamed
  readonly attempt: (work: Promise<void>) => void
  /** What it is about. */
  readonly children: ReactNode
}

function Said({ comment, isReply, isLast, thread, acts, people, self, attempt, children }: SaidProps) {
  const [isChanging, setChanging] = useState(false)
  const { id, name, isMine, text, at, editedAt, isDeleted, unsent, isNew, mayEdit, mayDelete } = comment
  if (isDeleted)
    return (
      <div className={isReply ? 'comment reply' : 'comment'} role="status">
        <span className="soft">
          Deleted{comment.backUntil !== null && `; to be brought back until ${timeInWords(comment.backUntil)}`}.
        </span>{' '}
        <Button size="sm" variant="link" onClick={() => attempt(acts.bringBack(id))}>
          Bring it back
        </Button>
      </div>
    )
  return (
    <div className={isReply ? 'comment reply' : 'comment'}>
      {isChanging ? (
        <CommentForm
          label="In other words"
          send="Keep"
          text={text}
          people={people}
          done={(words) => {
            acts.change(thread.id, id, words)
            setChanging(false)
          }}
          leave={() => setChanging(false)}
        />
      ) : (
        <p dir="auto">
          <strong>
            <bdi>{isMine ? 'You' : name}</bdi>
          </strong>{' '}
          <WithNames text={text} people={[...people, self]} />
        </p>
      )}
      <div className="comment-about soft">
        {children}
        <span title={exactTime(at)}>{timeInWords(at)}</span>
        {editedAt !== null && <span title={exactTime(editedAt)}>changed</span>}
        {isNew && <span className="new">new</span>}
        {isLast && !unsent && <SeenBy at={at} people={people} thread={thread} />}
        {unsent && unsent.problem === null && <span role="status">not sent yet, kept in this browser</span>}
        {mayEdit && !unsent && !isChanging && (
          <Button size="sm" variant="link" onClick={() => setChanging(true)}>
            Change
          </Button>
        )}
        {mayDelete && !unsent && (
          <Button size="sm" variant="link" onClick={() => attempt(acts.remove(id))}>
            Delete
          </Button>
        )}
      </div>
      {unsent?.problem && (
        <div className="bad" role="alert">
          Not taken: {unsent.problem}{' '}
          <Button size="sm" variant="link" onClick={() => acts.forget(id)}>
            Forget it
          </Button>
        </div>
      )}
    </div>
  )
}

/** A text in which who is named stands out. */
function WithNames({ text, people }: { readonly text: string; readonly people: readonly PersonNamed[] }) {
  const mentions = mentionsIn(text, people)
  if (mentions.length === 0) return text
  return (
    <>
      {mentions.map(({ from, to }, index) => (
        <Fragment key={from}>
          {text.slice(mentions[index - 1]?.to ?? 0, from)}
          <strong className="mention">{text.slice(from, to)}</strong>
        </Fragment>
      ))}
      {text.slice(mentions.at(-1)!.to)}
    </>
  )
}

/** Who of those who can be named has seen a comment; whose it is has. */
function SeenBy({
  at,
  people,
  thread,
}: {
  readonly at: number
  readonly people: readonly PersonNamed[]
  readonly thread: ThreadShown
}) {
  const writers = new Set(thread.comments.filter((comment) => comment.at >= at).map(({ name }) => name))
  const names = people
    .filter(({ seenAt, name }) => seenAt !== null && seenAt >= at && !writers.has(name))
    .map(({ name }) => name)
  if (names.length === 0) return null
  return (
    <span title={names.join(', ')}>seen by {names.length > 2 ? `${names.length} others` : names.join(' and ')}</span>
  )
}
