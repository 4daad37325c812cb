import type { Sitting, StepPassed } from '@gavrin/core'
import { useEffect, useRef } from 'react'
import { exactTime, spanInWords, timeInWords } from '../ui/time'
import type { CopyHistory } from './queries'
import { STEP_WORDS, shortLabel, some } from './words'

type Line = Sitting | StepPassed<CopyHistory['steps'][number]>

interface Props {
  readonly lines: readonly Line[]
  readonly labels: ReadonlyMap<string, string>
  readonly nameOf: (personId: string | null) => string
  readonly at: number
  readonly goTo: (at: number) => void
}

/** The history in a few lines: what was written in a sitting, and the steps of the copy. Each leads to its end. */
export function HistoryLines({ lines, labels, nameOf, at, goTo }: Props) {
  const list = useRef<HTMLOListElement>(null)
  const chosen = at === 0 ? lines.findLastIndex(({ to }) => to === 0) : lines.findIndex(({ to }) => to >= at)
  useEffect(() => {
    list.current?.children[chosen]?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  return (
    <aside className="history-lines" aria-label="What happened">
      <ol ref={list}>
        {lines.map((line, index) => (
          <li key={index} className={line.is}>
            <button type="button" aria-current={index === chosen} onClick={() => goTo(line.to)}>
              {line.is === 'step' ? (
                <StepLine line={line} labels={labels} nameOf={nameOf} />
              ) : (
                <SittingLine line={line} labels={labels} nameOf={nameOf} />
              )}
            </button>
          </li>
        ))}
      </ol>
    </aside>
  )
}

type Named = Pick<Props, 'labels' | 'nameOf'>

function StepLine({
  line: { step, spaces },
  labels,
  nameOf,
}: Named & { readonly line: Extract<Line, { is: 'step' }> }) {
  return (
    <>
      <span>
        <b>{STEP_WORDS[step.kind]}</b>
        {spaces.length > 0 &&
          `: ${some(
            spaces.map((space) => shortLabel(labels.get(space))),
            'other answers',
          )}`}
      </span>
      <span className="soft" title={exactTime(step.at)}>
        {timeInWords(step.at)}
        {step.personId !== null && ` · ${nameOf(step.personId)}`}
      </span>
    </>
  )
}

function SittingLine({ line, labels, nameOf }: Named & { readonly line: Sitting }) {
  const { began, at, personIds, spaces } = line
  return (
    <>
      <span>
        <bdi>{some(personIds.map(nameOf), 'more')}</bdi> wrote in{' '}
        {some(
          spaces.map((space) => shortLabel(labels.get(space))),
          'other answers',
        )}
      </span>
      <span className="soft" title={exactTime(began)}>
        {spanInWords(began, at)}
      </span>
    </>
  )
}
