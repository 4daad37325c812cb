import { fullName } from '@gavrin/core'
import { anchorWords } from '../comment/targets'
import { ThreadNote } from '../comment/ThreadNote'
import '../comment/comment.css'
import { useComments } from '../comment/useComments'
import type { CopyPageData } from '../copy/queries'
import type { SignedIn } from '../frame/session'
import type { CopyView, OpenCopy } from '../live/openCopy'

export interface DrawerCommentsProps {
  readonly data: CopyPageData
  readonly person: SignedIn
  readonly opened: { readonly copy: OpenCopy; readonly view: CopyView }
}

/** What is said in a copy that is looked at from the board, what waits for an answer first: to be answered there. */
export default function DrawerComments({ data, person, opened }: DrawerCommentsProps) {
  const { threads, acts, people } = useComments(data.id, person, opened, true)
  if (threads.length === 0) return null
  const waiting = threads.filter(({ isWaiting }) => isWaiting).length
  const sorted = threads.toSorted(
    (a, b) => Number(b.isWaiting) - Number(a.isWaiting) || Number(a.done !== null) - Number(b.done !== null),
  )
  const lookAt = (space: string | undefined) =>
    space === undefined ? undefined : document.getElementById(`space-${space}`)?.scrollIntoView({ block: 'center' })
  return (
    <details className="drawer-comments" open={waiting > 0}>
      <summary>
        Comments {threads.length}
        {waiting > 0 && `, ${waiting === 1 ? 'a question waits' : `${waiting} questions wait`}`}
      </summary>
      {sorted.map((thread) => {
        const { anchor } = thread
        return (
          <ThreadNote
            key={thread.id}
            thread={thread}
            about={anchorWords(anchor, data.content)}
            isGone={false}
            isChosen={false}
            choose={() => undefined}
            lookAt={() => lookAt('space' in anchor ? anchor.space : undefined)}
            acts={acts}
            people={people}
            self={{ id: person.id, name: fullName(person), seenAt: null }}
          />
        )
      })}
    </details>
  )
}
