import { type Viewer, mayWithCopy, maySeeAt, rightIn } from '@gavrin/core'
import { type CopyRecord, roleIn } from './copyRecord.js'

/** Which answers of a copy are right by their key, for those who write in it where its slip says so; null: they are not told. */
export function checksFor(copy: CopyRecord, viewer: Viewer): Readonly<Record<string, boolean>> | null {
  const now = Date.now()
  const role = roleIn(copy, viewer)
  if (!mayWithCopy(viewer, role, copy.facts, 'see checks', now).may) return null
  return Object.fromEntries(
    Object.entries(rightIn(copy.progress)).filter(([space]) => maySeeAt(viewer, role, copy.facts, space, now)),
  )
}
