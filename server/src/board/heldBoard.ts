import { type Viewer, maySeeKey } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { notThere } from '../common/problemDetails.js'
import type { BoardShown } from '../kept/boardRows.js'
import { type BoardHead, boardHead } from './board.queries.js'

/** A handout whose board somebody may see, and what they are shown of it. */
export async function heldBoard(source: DataSource, viewer: Viewer, handoutId: string) {
  const handout = await boardHead(source, viewer.schoolId, handoutId)
  if (!handout) throw notThere()
  const role = await holdInClass(source, viewer, handout.classId, 'see handouts')
  const students = await helpedBy(source, viewer, handout.classId, role)
  const shown: BoardShown = { students, withChecks: maySeeKey(role) }
  return { handout, role, shown } satisfies { handout: BoardHead; role: typeof role; shown: BoardShown }
}
