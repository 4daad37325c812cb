import { type AnswerPart, type LateDecision, type WorksheetContent, compareTyped, spaceLabel } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import Button from 'react-bootstrap/Button'
import { useLocation } from 'react-router'
import { api, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { WordMarks } from '../ui/WordMarks'
import { type LateWriting, useLateWritings } from './queries'

interface Props {
  readonly copyId: string
  readonly content: WorksheetContent
  readonly mayDecide: boolean
  /** Grows when there may be more, or other, than was read. */
  readonly news?: number
}

/** What was written when the copy stood still already: kept beside it, until a teacher takes it in or leaves it out. */
export function LateWritings({ copyId, content, mayDecide, news = 0 }: Props) {
  const { data, refetch } = useLateWritings(copyId, true)
  useEffect(() => {
    if (news > 0) void refetch()
  }, [news, refetch])
  const { hash } = useLocation()
  const isThere = !!data?.length
  useEffect(() => {
    if (isThere && hash === '#late-writing') document.getElementById('late-writing')?.scrollIntoView()
  }, [isThere, hash])
  if (!data?.length) return null
  return (
    <section id="late-writing" className="late-writings" aria-label="Late writing">
      <h3>Late writing</h3>
      <p>
        Written after this copy stood still.{' '}
        {mayDecide ? 'It is in no answer unless you take it in.' : 'It is in no answer unless a teacher takes it in.'}
      </p>
      {data.map((writing) => (
        // What was ticked goes by what was seen.
        <OneWriting
          key={`${writing.id} ${writing.seen.answer} ${writing.seen.late}`}
          copyId={copyId}
          writing={writing}
          label={spaceLabel(content, writing.space)}
          mayDecide={mayDecide}
        />
      ))}
    </section>
  )
}

const DECIDED: Readonly<Record<LateDecision, string>> = {
  'taken in': 'Taken into the answer',
  'taken in part': 'Taken into the answer in part',
  'left out': 'Left out of the answer',
}

interface OneProps {
  readonly copyId: string
  readonly writing: LateWriting
  readonly label: string
  readonly mayDecide: boolean
}

function OneWriting({ copyId, writing, label, mayDecide }: OneProps) {
  const { id, at, by, reason, parts, seen, decided } = writing
  const client = useQueryClient()
  const [isAgain, setAgain] = useState(false)
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const decide = useMutation({
    mutationFn: (taken: readonly string[] | null) =>
      api.post<LateWriting[]>(`copies/${copyId}/late-writing`, { id, seen, parts: taken }),
    onSuccess: (now) => {
      setAgain(false)
      client.setQueryData(['late', copyId], now)
      void client.invalidateQueries({ queryKey: ['desk', 'late'] })
    },
    // It has changed meanwhile: what there is now is shown, and the sentence stays.
    onError: () => client.invalidateQueries({ queryKey: ['late', copyId] }),
  })
  const isOpen = decided === null || isAgain
  const taken = parts.filter(({ key }) => !left.has(key))
  const isChoice = mayDecide && isOpen && parts.length > 1
  return (
    <div className="late-writing">
      <div className="soft">
        <bdi>{label}</bdi> · <bdi>{by || 'somebody else'}</bdi> · <span title={exactTime(at)}>{timeInWords(at)}</span> ·{' '}
        {reason}
      </div>
      {decided && (
        <div>
          {DECIDED[decided.decision]}
          {decided.by && (
            <>
              {' '}
              by <bdi>{decided.by}</bdi>
            </>
          )}{' '}
          <span className="soft" title={exactTime(decided.at)}>
            {timeInWords(decided.at)}
          </span>
        </div>
      )}
      {!isOpen && decided.parts.length > 0 && (
        <details>
          <summary>What came late</summary>
          {decided.parts.map((part) => (
            <div key={part.key} className="late-part">
              {decided.decision === 'taken in part' && (
                <span className="soft">{part.taken ? 'taken in' : 'left out'}</span>
              )}
              <PartShown part={part} />
            </div>
          ))}
        </details>
      )}
      {(isOpen ? parts : []).map((part) => (
        <div key={part.key} className="late-part">
          {isChoice && (
            <input
              type="checkbox"
              className="form-check-input"
              aria-label={`Take in: ${firstWords(part)}`}
              checked={!left.has(part.key)}
              onChange={({ target }) => {
                const next = new Set(left)
                if (target.checked) next.delete(part.key)
                else next.add(part.key)
                setLeft(next)
              }}
            />
          )}
          <PartShown part={part} />
        </div>
      ))}
      {parts.length === 0 && isOpen && <div>The answer reads the same with it.</div>}
      {mayDecide && isOpen && (
        <div className="late-acts">
          <Button
            size="sm"
            variant="outline-dark"
            disabled={decide.isPending || (parts.length > 0 && taken.length === 0)}
            onClick={() => decide.mutate(left.size === 0 ? null : taken.map(({ key }) => key))}
          >
            {left.size === 0 ? 'Take it into the answer' : `Take ${taken.length} of ${parts.length} into the answer`}
          </Button>
          <Button size="sm" variant="link" disabled={decide.isPending} onClick={() => decide.mutate([])}>
            Leave it out
          </Button>
          {isAgain && (
            <Button size="sm" variant="link" onClick={() => setAgain(false)}>
              Leave it as it is
            </Button>
          )}
        </div>
      )}
      {mayDecide && decided?.decision === 'left out' && !isAgain && (
        <Button size="sm" variant="link" onClick={() => setAgain(true)}>
          Decide again
        </Button>
      )}
      {decide.error && (
        <div className="bad" role="alert">
          {sentenceOf(decide.error)}
        </div>
      )}
    </div>
  )
}

/** A part of an answer as it would read, with what comes and goes marked in it. */
function PartShown({ part: { before, after } }: { readonly part: Pick<AnswerPart, 'before' | 'after'> }) {
  if (before === after)
    return <div className="answer">{after ? `${after} (set otherwise)` : '(other than it can be told in words)'}</div>
  return (
    <div className="answer" dir="auto">
      <WordMarks pieces={compareTyped(before, after)} isWhole />
    </div>
  )
}

const firstWords = ({ before, after }: AnswerPart) => (after || before).slice(0, 60)
