import {
  type MarkChange,
  type Heap,
  type NearHeap,
  type Points,
  fullName,
  gathered,
  heapsOf,
  isIn,
  joinNear,
  listName,
  partAddressOf,
  pointsInWords,
} from '@gavrin/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useSearchParams } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { CommentForm } from '../comment/CommentForm'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'
import { nearInWorker } from '../workers/makeInWorker'
import { AcceptToo } from './AcceptToo'
import { PointsField, nextPoints } from './PointsField'
import type { Changing, MarkedCopy, Marks } from './queries'

type Board = Answers['GET handouts/{handoutId}/board']
type Read = Answers['GET handouts/{handoutId}/answers/{worksheetId}/{space}']
type Given = Read['answers'][number] & { readonly address: string }

interface Props {
  readonly marks: Marks
  readonly board: Board
  readonly changing: Changing
  readonly isNamed: boolean
}

/** One answer space across all copies: alike answers on heaps, each marked and remarked on in one act. */
export function ByQuestion({ marks, board, changing, isNamed }: Props) {
  const [search, setSearch] = useSearchParams()
  const questions = board.sheets.flatMap(({ worksheetId, title, spaces }) =>
    spaces.map((space, at) => ({ worksheetId, title, space, number: at + 1, of: spaces.length })),
  )
  const wanted = search.get('space')
  const at = Math.max(
    0,
    questions.findIndex(({ space, worksheetId }) => `${worksheetId} ${space.id}` === wanted),
  )
  const question = questions[at]
  const go = (to: number) => {
    const next = questions[to]
    if (next) setSearch({ by: 'question', space: `${next.worksheetId} ${next.space.id}` }, { replace: true })
  }
  const query = useQuery({
    queryKey: ['board', board.handout.id, 'answers', question?.worksheetId, question?.space.id, 'marking'],
    queryFn: () =>
      api.get<Read>(
        `handouts/${board.handout.id}/answers/${question!.worksheetId}/${encodeURIComponent(question!.space.id)}`,
      ),
    enabled: question !== undefined,
    staleTime: 0,
  })
  if (!question)
    return (
      <div className="empty">
        <h2>Nothing to answer here</h2>
        <p>The worksheets of this handout have no answer spaces: mark its copies by student.</p>
      </div>
    )
  return (
    <div className="by-question">
      <div className="by-question-head">
        <Form.Select size="sm" aria-label="Question" value={at} onChange={({ target }) => go(Number(target.value))}>
          {questions.map(({ title, space, number }, place) => (
            <option key={`${title} ${space.id}`} value={place}>
              {board.sheets.length > 1 ? `${title}, ` : ''}
              {space.label || number}
            </option>
          ))}
        </Form.Select>
        <Button size="sm" variant="outline-dark" disabled={at === 0} onClick={() => go(at - 1)}>
          Question before
        </Button>
        <Button size="sm" variant="outline-dark" disabled={at === questions.length - 1} onClick={() => go(at + 1)}>
          Next question
        </Button>
      </div>
      <Loaded query={query}>
        {(read) => (
          <Heaps
            key={`${question.worksheetId} ${question.space.id}`}
            {...{ marks, changing, isNamed, read }}
            handoutId={board.handout.id}
            base={`/class/${board.handout.classId}/handouts/${board.handout.id}/marking`}
            worksheetId={question.worksheetId}
            spaceId={question.space.id}
            number={question.number}
            of={question.of}
          />
        )}
      </Loaded>
    </div>
  )
}

interface HeapsProps extends Omit<Props, 'board'> {
  readonly handoutId: string
  readonly base: string
  readonly worksheetId: string
  readonly spaceId: string
  readonly number: number
  readonly of: number
  readonly read: Read
}

function Heaps({ marks, changing, isNamed, handoutId, base, worksheetId, spaceId, number, of, read }: HeapsProps) {
  const [isNear, setNear] = useState(true)
  const [remarking, setRemarking] = useState<string | null>(null)
  const [remarked, setRemarked] = useState<Readonly<Record<string, number>>>({})
  const [isAll, setAll] = useState(false)
  const [accepting, setAccepting] = useState<{ readonly by: string; readonly texts: readonly string[] } | null>(null)
  // Who is still writing is not marked, unless that is wished.
  const copies = useMemo(() => marks.copies.filter((copy) => isAll || copy.isDone || isIn(copy)), [marks.copies, isAll])
  const byId = useMemo(() => new Map(copies.map((copy) => [copy.copyId, copy])), [copies])
  const all: readonly Given[] = useMemo(
    () =>
      read.answers
        .filter(({ copyId }) => byId.has(copyId))
        .map((one) => ({ ...one, address: one.of === null ? spaceId : partAddressOf(spaceId, one.of) })),
    [read.answers, byId, spaceId],
  )
  const exact = useMemo(() => heapsOf(all), [all])
  const heaps = useNear(exact, isNear)
  // Those in which nothing is written.
  const answered = new Set(all.map(({ copyId, address }) => `${copyId} ${address}`))
  const empty = copies.flatMap((copy) =>
    copy.spaces
      .filter(({ id }) => (id === spaceId || id.startsWith(`${spaceId}_`)) && !answered.has(`${copy.copyId} ${id}`))
      .map(({ id }): Given => ({ copyId: copy.copyId, of: null, text: '', right: null, address: id })),
  )
  const most = marks.copies
    .flatMap(({ spaces }) => spaces)
    .find(({ id }) => id === spaceId || id.startsWith(`${spaceId}_`))?.most
  const shown: readonly NearHeap<Given>[] =
    empty.length > 0 ? [...heaps, { text: '', right: null, answers: empty, isNear: false }] : heaps
  const pointsOf = ({ copyId, address }: Given): Points | null => byId.get(copyId)?.parts.spaces[address] ?? null
  const give = (answers: readonly Given[], to: Points | null) =>
    void changing.change(
      [...gathered(answers, ({ copyId }) => copyId)].map(([copyId, own]) => ({
        copyId,
        changes: own.map((one): MarkChange => ({ of: 'space', space: one.address, was: pointsOf(one), to })),
      })),
    )
  const open = shown.flatMap(({ answers }) => answers).filter((one) => pointsOf(one) === null)
  const remark = useMutation({
    mutationFn: ({ answers, text }: { heap: string; answers: readonly Given[]; text: string }) =>
      api.post<Answers['POST handouts/{handoutId}/comments']>(`handouts/${handoutId}/comments`, {
        text,
        kind: 'remark',
        of: answers.map(({ copyId, address }) => ({
          ...{ copyId, threadId: newUuid(), commentId: newUuid() },
          space: address,
        })),
      } satisfies Bodies['POST handouts/{handoutId}/comments']),
    onSuccess: ({ failed }, { heap, answers }) => {
      setRemarked((before) => ({ ...before, [heap]: answers.length - failed.length }))
      setRemarking(null)
    },
  })
  const proposal = ({ right, text }: NearHeap<Given>): Points | null =>
    most === undefined ? null : right === true ? most : right === false || text === '' ? 0 : null
  const acceptToo = accepting && (
    <AcceptToo
      key={accepting.texts.join('\n')}
      {...{ handoutId, worksheetId, spaceId, isNamed }}
      was={read.accepted ?? []}
      texts={accepting.texts}
      copies={marks.copies}
      close={() => setAccepting(null)}
    />
  )
  return (
    <>
      <h2>
        <span className="soft one-question-number">
          Answer {number} of {of}
        </span>{' '}
        {read.question || 'No words stand before this answer.'}
      </h2>
      <p className="soft by-question-said">
        {all.length} {all.length === 1 ? 'answer' : 'answers'} on {heaps.length} {heaps.length === 1 ? 'heap' : 'heaps'}
        {most !== undefined && ` · ${open.length === 0 ? 'all have points' : `${open.length} without points`}`}
        {read.key && (
          <>
            {' '}
            · right is: <bdi>{read.key}</bdi>
          </>
        )}
        <Form.Check
          type="switch"
          id="not-submitted-too"
          label="Not submitted too"
          checked={isAll}
          onChange={({ target }) => setAll(target.checked)}
        />
        <Form.Check
          type="switch"
          id="near-heaps"
          label="Nearly the same together"
          checked={isNear}
          onChange={({ target }) => setNear(target.checked)}
        />
      </p>
      {read.accepted && read.accepted.length > 0 && (
        <p className="soft by-question-accepted">
          Accepted here too:
          {read.accepted.map((text) => (
            <span key={text}>
              {' '}
              <bdi>{text}</bdi>
              {marks.mayHandBack && (
                <button
                  type="button"
                  className="btn btn-link btn-sm p-0"
                  aria-label={`Accept ${text} no longer`}
                  onClick={() => setAccepting({ by: '', texts: read.accepted!.filter((one) => one !== text) })}
                >
                  ×
                </button>
              )}
            </span>
          ))}
        </p>
      )}
      {accepting?.by === '' && acceptToo}
      {remark.error && <Notice kind="bad">{sentenceOf(remark.error)}</Notice>}
      {most === undefined && (
        <Notice kind="plain">
          No points are given for this answer: remarks can be made on it. Its points are set in the worksheet, and the
          slip says that it is marked by them.
        </Notice>
      )}
      <ol className="heaps heaps-to-mark">
        {shown.map((heap) => {
          const given = heap.answers.map(pointsOf)
          const same = given.every((one) => one === given[0]) ? given[0]! : null
          const isMixed = !given.every((one) => one === given[0])
          return (
            <li key={heap.text} className="heap">
              <div className="heap-line">
                <span className="slab heap-count">{heap.answers.length}</span>
                {heap.right !== null && (
                  <span className={heap.right ? 'heap-right' : 'heap-wrong'}>{heap.right ? 'right' : 'wrong'}</span>
                )}
                <span className="heap-words">
                  {heap.text ? <bdi>{heap.text}</bdi> : <span className="soft">nothing written</span>}
                  {heap.isNear && <span className="soft"> and nearly the same</span>}
                </span>
                {most !== undefined && (
                  <PointsField
                    className="space-points"
                    label={`Points for ${heap.text || 'nothing written'}`}
                    value={same}
                    proposal={isMixed ? null : proposal(heap)}
                    most={most}
                    disabled={!marks.mayMark}
                    change={(to) => give(heap.answers, to)}
                    next={nextPoints}
                  />
                )}
                {heap.right === false && read.accepted && marks.mayHandBack && (
                  <Button
                    size="sm"
                    variant="link"
                    onClick={() =>
                      setAccepting({
                        by: heap.text,
                        texts: [...new Set([...read.accepted!, ...heap.answers.map(({ text }) => text)])],
                      })
                    }
                  >
                    It is right too
                  </Button>
                )}
                <Button
                  size="sm"
                  variant="outline-dark"
                  onClick={() => setRemarking(remarking === heap.text ? null : heap.text)}
                >
                  Remark
                </Button>
              </div>
              {accepting?.by === heap.text && heap.text && acceptToo}
              {isMixed && (
                <p className="soft heap-mixed">
                  They have different points:{' '}
                  {[...new Set(given)].map((one) => (one === null ? 'none' : pointsInWords(one))).join(', ')}. What is
                  typed goes to all of them.
                </p>
              )}
              {remarked[heap.text] !== undefined && (
                <p className="soft">
                  Remarked on in {remarked[heap.text]} {remarked[heap.text] === 1 ? 'copy' : 'copies'}, not handed back
                  yet.
                </p>
              )}
              {heap.isNear && (
                <p className="heap-spellings soft">
                  {[...new Set(heap.answers.map(({ text }) => text))].map((text) => (
                    <bdi key={text}>{text}</bdi>
                  ))}
                </p>
              )}
              {isNamed && <HeapNames answers={heap.answers} byId={byId} base={base} />}
              {remarking === heap.text && (
                <CommentForm
                  label={`Remark on ${heap.answers.length === 1 ? 'this answer' : `each of these ${heap.answers.length} answers`}`}
                  send={`Remark in ${heap.answers.length} ${heap.answers.length === 1 ? 'copy' : 'copies'}`}
                  people={[]}
                  withStock
                  done={(text) => remark.mutate({ heap: heap.text, answers: heap.answers, text })}
                  leave={() => setRemarking(null)}
                />
              )}
            </li>
          )
        })}
      </ol>
      {shown.length === 0 && <p className="soft">Nobody has answered this yet.</p>}
    </>
  )
}

function HeapNames({
  answers,
  byId,
  base,
}: {
  readonly answers: readonly Given[]
  readonly byId: ReadonlyMap<string, MarkedCopy>
  readonly base: string
}) {
  return (
    <span className="heap-names">
      {answers.map(({ copyId, of }) => {
        const copy = byId.get(copyId)!
        const holder = of && copy.holders.find(({ personId }) => personId.replaceAll('-', '') === of)
        return (
          <Link key={`${copyId} ${of}`} className="btn btn-link btn-sm p-0" to={`${base}?copy=${copyId}`}>
            <bdi>{holder ? fullName(holder) : copy.holders.length === 1 ? listName(copy.holders[0]!) : copy.title}</bdi>
          </Link>
        )
      })}
    </span>
  )
}

/** Heaps, with what is nearly the same on one where that is wished: that is found away from the page, which shows those before meanwhile. */
function useNear(exact: readonly Heap<Given>[], isWished: boolean): readonly NearHeap<Given>[] {
  const [near, setNear] = useState<readonly NearHeap<Given>[] | null>(null)
  useEffect(() => {
    let isOver = false
    if (isWished)
      void nearInWorker(exact)
        // A browser without workers finds it itself.
        .catch(() => joinNear(exact))
        .then((heaps) => {
          if (!isOver) setNear(heaps)
        })
    return () => {
      isOver = true
    }
  }, [exact, isWished])
  return useMemo(
    () => (isWished ? near : null) ?? exact.map((heap) => ({ ...heap, isNear: false })),
    [exact, near, isWished],
  )
}
