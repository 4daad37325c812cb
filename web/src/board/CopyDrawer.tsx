import { type AnswerSpace, type BoardRow, fullName } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { type ComponentType, type ReactNode, Suspense, lazy, useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { AnswerView } from '../sheet/AnswerView'
import { useCopySheet } from '../copy/useCopySheet'
import { SheetContext } from '../sheet/surroundings'
import { BringToLastGood } from '../copy/BringToLastGood'
import { KeptAnswers } from '../copy/KeptAnswers'
import { ReadBy } from '../copy/PeerReading'
import { LateWritings } from '../copy/LateWritings'
import { AnswersOnly } from '../sheet/AnswersOnly'
import { Sheet } from '../sheet/Sheet'
import { useStored } from '../ui/useStored'
import '../copy/copy.css'
import { type CopyPageData, useCopy } from '../copy/queries'
import { useOpenCopy } from '../live/useOpenCopy'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import type { SignedIn } from '../frame/session'
import { timeInWords } from '../ui/time'
import type { Looked } from './useLooked'
import type { DrawerCommentsProps } from './DrawerComments'

const DrawerComments = lazy<ComponentType<DrawerCommentsProps>>(() => import('./DrawerComments'))

interface Props {
  readonly row: BoardRow
  readonly person: SignedIn
  readonly up: (() => void) | null
  readonly down: (() => void) | null
  /** The next copies of a kind, by a key too; without one it says so. */
  readonly next: readonly { readonly key: string; readonly label: string; readonly go: (() => void) | undefined }[]
  readonly looked: Looked
  /** This copy and those after it beside each other. */
  readonly watch: (() => void) | null
  readonly close: () => void
  /** What can be done with the copy. */
  readonly acts?: ReactNode
}

/** A copy beside its row, seen as it is being written. */
export function CopyDrawer({ row, person, up, down, next, looked, watch, close, acts }: Props) {
  const query = useCopy(row.copyId)
  const { look, sinceOf } = looked
  const [answersOnly, setAnswersOnly] = useStored('answers only', false)
  // As it was when the drawer was opened: what is written under the eyes of whoever looks is not new to them.
  const [since] = useState(() => sinceOf(row.copyId))
  const [wasWritten] = useState(row.writtenAt)
  useEffect(() => {
    look(row.copyId)
    return () => look(row.copyId)
  }, [look, row.copyId])
  const changed = Object.entries(row.progress).flatMap(([id, { at }]) =>
    at !== undefined && since !== null && at > since && at <= (wasWritten ?? 0) ? [id] : [],
  )
  const whose = row.way === 'one each' && row.holders.length > 0 ? row.holders.map(fullName).join(', ') : row.title
  return (
    <aside className="drawer" aria-label={`Copy of ${whose}`}>
      <div className="drawer-head">
        <h2>
          <bdi>{whose}</bdi>
        </h2>
        <span className="soft">
          {row.answered} of {row.spaces} · {row.state}
        </span>
        <span className="drawer-keys">
          <button type="button" onClick={() => up?.()} disabled={!up} aria-label="The copy before">
            ↑
          </button>
          <button type="button" onClick={() => down?.()} disabled={!down} aria-label="The next copy">
            ↓
          </button>
          <button type="button" onClick={close} aria-label="Close">
            ×
          </button>
        </span>
      </div>
      <div className="drawer-next">
        {next.map(({ key, label, go }) => (
          <button key={key} type="button" className="btn btn-link btn-sm p-0" disabled={!go} onClick={go}>
            {label} <kbd>{key}</kbd>
          </button>
        ))}
        <Form.Check
          type="switch"
          id="answers-only"
          label="Answers only"
          checked={answersOnly}
          onChange={({ target }) => setAnswersOnly(target.checked)}
        />
        {changed.length > 0 && (
          <span className="soft">
            {changed.length === 1 ? 'one answer' : `${changed.length} answers`} changed since you looked,{' '}
            {timeInWords(since!)}
          </span>
        )}
      </div>
      <Loaded query={query}>
        {(copy) => <LiveSheet data={copy} person={person} changed={changed} answersOnly={answersOnly} />}
      </Loaded>
      <div className="drawer-foot">
        <Link className="btn btn-outline-dark btn-sm" to={`/copies/${row.copyId}`}>
          Open the copy
        </Link>
        <Button
          size="sm"
          variant="link"
          onClick={() => void navigator.clipboard.writeText(`${location.origin}/copies/${row.copyId}`)}
        >
          Copy its link
        </Button>
        {row.way !== 'to read' && (
          <Link className="btn btn-link btn-sm" to={`/copies/${row.copyId}/history`}>
            History
          </Link>
        )}
        {watch && (
          <Button size="sm" variant="link" onClick={watch}>
            Side by side
          </Button>
        )}
        {acts}
      </div>
    </aside>
  )
}

/** The page of a copy as it is being written, with what belongs to it. */
export function LiveSheet({
  data,
  person,
  changed,
  isPlain = false,
  answersOnly,
}: {
  data: CopyPageData
  person: SignedIn
  /** Addresses of answers that are new to whoever looks. */
  changed: readonly string[]
  /** Only the page: there is room for no more. */
  isPlain?: boolean
  /** Without the print. */
  answersOnly: boolean
}) {
  const client = useQueryClient()
  const opened = useOpenCopy(data.id, person.id, data.content)
  const isOther = !!opened?.view.page && opened.view.page !== data.page
  useEffect(() => {
    if (isOther) void client.invalidateQueries({ queryKey: ['copy', data.id] })
  }, [isOther, client, data.id])
  const Page = answersOnly && data.way !== 'to read' ? AnswersOnly : Sheet
  const surroundings = useCopySheet(data, opened?.copy ?? null, opened?.view.generation ?? 0)
  return (
    <div className="drawer-sheet" tabIndex={0} role="group" aria-label={`Page of ${data.title}`}>
      {opened?.view.closed && <Notice kind="bad">{opened.view.closed}</Notice>}
      {opened?.view.closed && data.mayBringToLastGood && (
        <BringToLastGood copyId={data.id} onDone={() => opened.copy.tryAgain()} />
      )}
      {!isPlain && <ReadBy data={data} />}
      {opened && !isPlain && (
        <Suspense>
          <DrawerComments data={data} person={person} opened={opened} />
        </Suspense>
      )}
      <SheetContext value={surroundings}>
        <Page
          content={data.content}
          ink={data.ink}
          toRead={data.way === 'to read'}
          answer={(space: AnswerSpace, label: string) =>
            opened ? (
              <span className={changed.includes(space.id) ? 'changed-answer' : undefined}>
                <AnswerView
                  key={`${space.id}-${opened.view.generation}`}
                  space={space}
                  doc={opened.copy.doc(space.id)}
                  label={label}
                />
              </span>
            ) : (
              <div className="answer" aria-hidden="true" />
            )
          }
        />
      </SheetContext>
      {!isPlain && (
        <>
          <KeptAnswers kept={data.kept} />
          <LateWritings
            copyId={data.id}
            content={data.content}
            mayDecide={data.mayDecideOnLate}
            news={opened ? opened.view.generation + opened.view.lateNews : 0}
          />
        </>
      )}
    </div>
  )
}
