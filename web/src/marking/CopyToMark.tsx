import {
  type PenMark,
  type AnswerSpace,
  type Points,
  answerSpaces,
  pointsFrom,
  proposedPoints,
  readAnswer,
} from '@gavrin/core'
import { type ComponentType, type ReactNode, Suspense, lazy, useEffect, useState } from 'react'
import type { CommentMarginProps } from '../comment/CommentMargin'
import '../comment/comment.css'
import CopyDocuments from '../copy/CopyDocuments'
import { LateWritings } from '../copy/LateWritings'
import { type CopyPageData, useCopy } from '../copy/queries'
import { useCopySheet } from '../copy/useCopySheet'
import type { SignedIn } from '../frame/session'
import { useOpenCopy } from '../live/useOpenCopy'
import { AnswerView } from '../sheet/AnswerView'
import { AnswersOnly } from '../sheet/AnswersOnly'
import { Sheet } from '../sheet/Sheet'
import { SheetContext } from '../sheet/surroundings'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { PenLayer, type PenMode } from './PenLayer'
import { type PenMarks, usePenMarks } from './usePen'

const CommentMargin = lazy<ComponentType<CommentMarginProps>>(() => import('../comment/CommentMargin'))

export type Proposals = Readonly<Record<string, Points>>

interface Props {
  readonly copyId: string
  readonly person: SignedIn
  readonly answersOnly: boolean
  /** What the copy is called: by whose it is, unless names are hidden. */
  readonly whose: string
  /** It is not shown yet, and made ready so that it is there at once when it is. */
  readonly isNext: boolean
  /** Beside an answer: its points. */
  readonly points: (space: AnswerSpace, label: string, proposal: Points | null) => ReactNode
  readonly propose: (copyId: string, proposals: Proposals) => void
  /** The pen over it; null: it is not shown yet. */
  readonly pen: {
    readonly mode: PenMode
    readonly draw: (mark: PenMark) => void
    readonly remove: (mark: PenMarks[number]) => void
  } | null
}

/** A copy as it is marked: its page or its answers, with points beside them, and remarks in the margin. */
export function CopyToMark(props: Props) {
  const query = useCopy(props.copyId)
  return (
    <div className="copy-to-mark" hidden={props.isNext}>
      <Loaded query={query}>{(data) => <Opened {...props} data={data} />}</Loaded>
    </div>
  )
}

function Opened({
  data,
  person,
  answersOnly,
  whose,
  isNext,
  points,
  propose,
  pen,
}: Props & { readonly data: CopyPageData }) {
  const opened = useOpenCopy(data.id, person.id, data.content)
  const [sheet, setSheet] = useState<HTMLElement | null>(null)
  const penMarks = usePenMarks(data.id, true).data ?? NO_MARKS
  const surroundings = useCopySheet(data, opened?.copy ?? null, opened?.view.generation ?? 0)
  const copy = opened?.view.ready ? opened.copy : null
  const generation = opened?.view.generation ?? 0
  // Made ready is not looked at: who has it open is not told that somebody is there.
  useEffect(() => opened?.copy.stand(() => ({ space: null, at: null, away: isNext })), [opened?.copy, isNext])
  const [proposals, setProposals] = useState<Proposals>({})
  useEffect(() => {
    if (!copy) return
    const found = Object.fromEntries(
      answerSpaces(data.content).flatMap((space) => {
        const proposed = proposedPoints(space, readAnswer(space, copy.doc(space.id)))
        return proposed === null ? [] : [[space.id, proposed] as const]
      }),
    )
    setProposals(found)
    propose(data.id, found)
    // A new generation has new documents.
  }, [copy, generation, data.content, data.id, propose])
  const beside = (space: AnswerSpace, label: string) =>
    points(space, label, space.points && pointsFrom(space.points) > 0 ? (proposals[space.id] ?? null) : null)
  const answer = (space: AnswerSpace, label: string) =>
    opened ? (
      <AnswerView key={`${space.id}-${generation}`} space={space} doc={opened.copy.doc(space.id)} label={label} />
    ) : (
      <div className="answer" aria-hidden="true" />
    )
  return (
    <SheetContext value={surroundings}>
      {opened?.view.closed && <Notice kind="bad">{opened.view.closed}</Notice>}
      <div className="sheet-and-margin">
        <div className="sheet-to-mark" tabIndex={0} role="group" aria-label={`Answers of ${whose}`}>
          {data.documents.length > 0 && <CopyDocuments data={data} mayWrite={false} onFailed={nothing} />}
          {answersOnly ? (
            <AnswersOnly content={data.content} ink={data.ink} answer={answer} beside={beside} page={setSheet} />
          ) : (
            <Sheet
              content={data.content}
              ink={data.ink}
              answer={answer}
              page={setSheet}
              under={(space) => beside(space, '')}
            />
          )}
          {pen && sheet && (
            <PenLayer page={sheet} marks={penMarks} mode={pen.mode} draw={pen.draw} remove={pen.remove} />
          )}
          <LateWritings
            copyId={data.id}
            content={data.content}
            mayDecide={data.mayDecideOnLate}
            news={opened ? generation + opened.view.lateNews : 0}
          />
        </div>
        {opened && !isNext ? (
          <Suspense fallback={<div className="margin" />}>
            <CommentMargin
              data={data}
              person={person}
              opened={opened}
              sheet={sheet}
              isOpen
              setOpen={nothing}
              count={nothing}
              isMarking
            />
          </Suspense>
        ) : (
          <div className="margin" />
        )}
      </div>
    </SheetContext>
  )
}

const nothing = () => undefined
const NO_MARKS: PenMarks = []
