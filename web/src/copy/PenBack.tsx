import { PenLayer } from '../marking/PenLayer'
import { usePenMarks } from '../marking/usePen'

/** What the teacher's pen left on a copy that was handed back. */
export default function PenBack({ copyId, page }: { readonly copyId: string; readonly page: HTMLElement }) {
  const marks = usePenMarks(copyId, true).data ?? []
  if (marks.length === 0) return null
  return <PenLayer page={page} marks={marks} mode={null} draw={nothing} remove={nothing} />
}

const nothing = () => undefined
