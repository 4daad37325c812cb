import { type BoardRow, fullName } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { type ComponentType, type ReactNode, Suspense, lazy, useEffect } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { AnswerView } from '../sheet/AnswerView'
import { useCopySheet } from '../copy/useCopySheet'
import { SheetContext } from '../sheet/surroundings'
import { BringToLastGood } from '../copy/BringToLastGood'
import { KeptAnswers } from '../copy/KeptAnswers'
import { ReadBy } from '../copy/PeerReading'
import { LateWritings } from '../copy/LateWritings'
import { Sheet } from '../sheet/Sheet'
import '../copy/copy.css'
import { type CopyPageData, useCopy } from '../copy/queries'
import { useOpenCopy } from '../live/useOpenCopy'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import type { SignedIn } from '../frame/session'
import type { DrawerCommentsProps } from './DrawerComments'

const DrawerComments = lazy<ComponentType<DrawerCommentsProps>>(() => import('./DrawerComments'))

interface Props {
  readonly row: BoardRow
  readonly person: SignedIn
  readonly up: (() => void) | null
  readonly down: (() => void) | null
  readonly close: () => void
  /** What can be done with the copy. */
  readonly acts?: ReactNode
}

/** A copy beside its row, seen as it is being written. */
export function CopyDrawer({ row, person, up, down, close, acts }: Props) {
  const query = useCopy(row.copyId)
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
      <Loaded query={query}>{(copy) => <LiveSheet data={copy} person={person} />}</Loaded>
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
        {acts}
      </div>
    </aside>
  )
}

function LiveSheet({ data, person }: { data: CopyPageData; person: SignedIn }) {
  const client = useQueryClient()
  const opened = useOpenCopy(data.id, person.id, data.content)
  const isOther = !!opened?.view.page && opened.view.page !== data.page
  useEffect(() => {
    if (isOther) void client.invalidateQueries({ queryKey: ['copy', data.id] })
  }, [isOther, client, data.id])
  const surroundings = useCopySheet(data, opened?.copy ?? null, opened?.view.generation ?? 0)
  return (
    <div className="drawer-sheet">
      {opened?.view.closed && <Notice kind="bad">{opened.view.closed}</Notice>}
      {opened?.view.closed && data.mayBringToLastGood && (
        <BringToLastGood copyId={data.id} onDone={() => opened.copy.tryAgain()} />
      )}
      <ReadBy data={data} />
      {opened && (
        <Suspense>
          <DrawerComments data={data} person={person} opened={opened} />
        </Suspense>
      )}
      <SheetContext value={surroundings}>
        <Sheet
          content={data.content}
          ink={data.ink}
          toRead={data.way === 'to read'}
          answer={(space, label) =>
            opened ? (
              <AnswerView
                key={`${space.id}-${opened.view.generation}`}
                space={space}
                doc={opened.copy.doc(space.id)}
                label={label}
              />
            ) : (
              <div className="answer" aria-hidden="true" />
            )
          }
        />
      </SheetContext>
      <KeptAnswers kept={data.kept} />
      <LateWritings
        copyId={data.id}
        content={data.content}
        mayDecide={data.mayDecideOnLate}
        news={opened ? opened.view.generation + opened.view.lateNews : 0}
      />
    </div>
  )
}
