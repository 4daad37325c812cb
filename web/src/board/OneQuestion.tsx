import { type BoardSpace, type GridLine, type Heap, fullName, gathered, heapsOf } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Answers } from '../contract'
import { Loaded } from '../ui/Loaded'
import { api } from '../ui/api'
import { useStored } from '../ui/useStored'
import { rowName } from './rowName'

type Read = Answers['GET handouts/{handoutId}/answers/{worksheetId}/{space}']
type Given = Read['answers'][number]

interface Props {
  readonly handoutId: string
  readonly worksheetId: string
  readonly number: number
  readonly space: BoardSpace
  readonly lines: readonly GridLine[]
  /** Its place among the cells of the lines. */
  readonly at: number
  /** How many questions there are. */
  readonly last: number
  readonly close: () => void
  readonly go: (step: number) => void
  readonly choose: (copyId: string) => void
}

/** What was answered to one question: alike answers together, with or without names, one of them large for the class. */
export function OneQuestion(props: Props) {
  const { handoutId, worksheetId, number, space, lines, at, last, close, go } = props
  // It is read anew when an answer of it has changed: the cells say when.
  const form = lines.map(({ cells }) => `${cells[at]?.at ?? ''} ${cells[at]?.share ?? 0}`).join()
  const query = useQuery({
    queryKey: ['board', handoutId, 'answers', worksheetId, space.id, form],
    queryFn: () => api.get<Read>(`handouts/${handoutId}/answers/${worksheetId}/${encodeURIComponent(space.id)}`),
    placeholderData: (before, asked) => (asked?.queryKey[4] === space.id ? before : undefined),
  })
  return (
    <section className="one-question" aria-label={space.label}>
      <div className="one-question-head">
        <Button size="sm" variant="link" onClick={close}>
          ← All questions
        </Button>
        <span className="tools-end">
          <Button size="sm" variant="outline-dark" disabled={number === 1} onClick={() => go(-1)}>
            Question before
          </Button>
          <Button size="sm" variant="outline-dark" disabled={number === last} onClick={() => go(1)}>
            Next question
          </Button>
        </span>
      </div>
      <Loaded query={query}>{(read) => <Heaps {...props} read={read} />}</Loaded>
    </section>
  )
}

function Heaps({ number, last, lines, at, choose, read }: Props & { readonly read: Read }) {
  const [areNamed, setNamed] = useStored('answers named', true)
  const [large, setLarge] = useState<number | null>(null)
  const copies = gathered(lines, ({ row }) => row.copyId)
  const order = new Map(lines.map(({ row }, place) => [row.copyId, place]))
  const shown = read.answers
    .filter(({ copyId }) => order.has(copyId))
    .toSorted((a, b) => order.get(a.copyId)! - order.get(b.copyId)!)
  const heaps = heapsOf(shown)
  const missing = lines.filter(({ cells }) => cells[at]!.share === 0)
  const nameOf = ({ copyId, of }: Given) => {
    const [line] = copies.get(copyId)!
    const holder = of && line!.row.holders.find(({ personId }) => personId.replaceAll('-', '') === of)
    return holder ? fullName(holder) : rowName(line!.row)
  }
  return (
    <>
      <h2>
        <span className="soft one-question-number">
          Answer {number} of {last}
        </span>{' '}
        {read.question || 'No words stand before this answer.'}
      </h2>
      <p className="soft">
        {shown.length} {shown.length === 1 ? 'answer' : 'answers'}
        {shown.length > 1 &&
          (heaps.length === 1
            ? ', all alike'
            : heaps.length < shown.length
              ? `, ${heaps.length} different`
              : ', all different')}
        {missing.length > 0 && ` · ${missing.length} empty`}
        {read.key && (
          <>
            {' '}
            · right is: <bdi>{read.key}</bdi>
          </>
        )}
      </p>
      <div className="one-question-acts">
        <Form.Check
          type="switch"
          id="answers-named"
          label="Names"
          checked={areNamed}
          onChange={({ target }) => setNamed(target.checked)}
        />
        <Button size="sm" variant="outline-dark" disabled={heaps.length === 0} onClick={() => setLarge(0)}>
          Show large
        </Button>
        <Button size="sm" variant="outline-dark" onClick={() => print()}>
          Print
        </Button>
      </div>
      {heaps.length === 0 && <p className="soft">Nobody has answered this yet.</p>}
      <ol className="heaps">
        {heaps.map((heap, place) => (
          <li key={heap.text} className="heap">
            <button
              type="button"
              className="heap-text"
              onClick={() => setLarge(place)}
              title="Show it large, for the class"
            >
              <span className="slab heap-count">{heap.answers.length}</span>
              <HeapMark heap={heap} />
              <bdi>{heap.text}</bdi>
            </button>
            {areNamed && (
              <span className="heap-names">
                {heap.answers.map((answer) => (
                  <button
                    key={`${answer.copyId} ${answer.of}`}
                    type="button"
                    className="btn btn-link btn-sm p-0"
                    onClick={() => choose(answer.copyId)}
                  >
                    <bdi>{nameOf(answer)}</bdi>
                  </button>
                ))}
              </span>
            )}
          </li>
        ))}
      </ol>
      {areNamed && missing.length > 0 && (
        <p className="soft heap-missing">Empty: {missing.map(({ name, row }) => name ?? rowName(row)).join('; ')}</p>
      )}
      {large !== null && heaps[large] && (
        <Large
          question={read.question}
          heap={heaps[large]}
          place={large + 1}
          all={heaps.length}
          go={(step) => setLarge(Math.max(0, Math.min(heaps.length - 1, large + step)))}
          close={() => setLarge(null)}
        />
      )}
    </>
  )
}

function HeapMark({ heap: { right } }: { readonly heap: Heap<Given> }) {
  if (right === null) return null
  return <span className={right ? 'heap-right' : 'heap-wrong'}>{right ? 'right' : 'wrong'}</span>
}

/** One answer over the whole screen, without anybody’s name, for a class to talk about. */
function Large({
  question,
  heap,
  place,
  all,
  go,
  close,
}: {
  readonly question: string
  readonly heap: Heap<Given>
  readonly place: number
  readonly all: number
  readonly go: (step: number) => void
  readonly close: () => void
}) {
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key === 'Escape') close()
      else if (event.key === 'ArrowRight' || event.key === 'ArrowDown') go(1)
      else if (event.key === 'ArrowLeft' || event.key === 'ArrowUp') go(-1)
      else return
      event.preventDefault()
      event.stopPropagation()
    }
    window.addEventListener('keydown', key, true)
    return () => window.removeEventListener('keydown', key, true)
  })
  return (
    <div className="large-answer" role="dialog" aria-modal="true" aria-label="One answer, large">
      <div className="large-head">
        <span>{question}</span>
        <span className="drawer-keys">
          <button type="button" disabled={place === 1} onClick={() => go(-1)} aria-label="The answer before">
            ←
          </button>
          <button type="button" disabled={place === all} onClick={() => go(1)} aria-label="The next answer">
            →
          </button>
          <button type="button" onClick={close} aria-label="Close" autoFocus>
            ×
          </button>
        </span>
      </div>
      <p className="large-text">
        <bdi>{heap.text}</bdi>
      </p>
      <p className="soft">
        {place} of {all}
        {heap.answers.length > 1 && ` · ${heap.answers.length} answered like this`}
      </p>
    </div>
  )
}
