import { answerSpaces } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { conflict } from '../common/problemDetails.js'
import type { CopyRecord } from '../kept/copyRecord.js'
import { addToJournal } from '../kept/journal.js'
import type { DocLoader } from '../kept/docLoader.js'
import { logOf } from '../kept/spaces.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Copy } from '../kept/kept.entity.js'
import { setUpdatesAside } from './copy.queries.js'

/** What was done to bring a copy to its last good state. */
export interface LastGood {
  /** Updates that were set aside, from the one that takes too long on. */
  readonly setAside: number
}

/**
 * Brings the answer space because of which a copy cannot be opened to the state it had before the update that takes too
 * long. That update and all after it are set aside, and kept; the other answers stay as they are.
 */
export async function bringToLastGood(
  source: DataSource,
  loader: DocLoader,
  copy: CopyRecord,
  personId: string,
): Promise<LastGood> {
  const { schoolId, copyId, unreadable } = copy
  const kind = answerSpaces(copy.content).find(({ id }) => id === unreadable)?.kind
  if (!unreadable || !kind) throw conflict('readable', 'This copy can be opened: there is nothing to mend.')
  const log = await logOf(source, schoolId, copyId, unreadable)
  const good = await loader.lastGood(
    kind,
    log.map(({ bytes }) => bytes),
  )
  if (good === null) throw conflict('no-good-state', 'No state of this copy could be read in time: tell your office.')
  const from = log[good]?.seq ?? null
  return source.transaction(async (tx) => {
    const [held] = await inSchool(tx, schoolId).find(Copy, { id: copyId }, { select: ['unreadableSpace'], lock: true })
    if (held?.unreadableSpace !== unreadable)
      throw conflict('readable', 'Somebody else has mended this copy meanwhile.')
    const setAside = await setUpdatesAside(tx, schoolId, {
      copyId,
      space: unreadable,
      from: from ?? 2 ** 31 - 1,
      personId,
    })
    await inSchool(tx, schoolId).update(Copy, { id: copyId }, { unreadableSpace: null })
    await addToJournal(tx, schoolId, { copyId, kind: 'brought to last good', personId, at: Date.now() })
    return { setAside }
  })
}
