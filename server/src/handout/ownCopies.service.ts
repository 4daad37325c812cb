import { type Viewer, mayWithCopy, slotOwn } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { hold } from '../access/viewer.js'
import { conflict } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { copyOf, roleIn } from '../kept/copyRecord.js'
import { Copy } from '../kept/kept.entity.js'
import { OwnCopyMade } from '../slip/slip.entity.js'

/** Copies that students make for themselves of something to read. */
@Injectable()
export class OwnCopies {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly runs: HandOutRuns,
  ) {}

  /** Makes a copy of one's own of something to read, in the plan of its handout; asked for again it is the same. */
  async make(viewer: Viewer, copyId: string): Promise<{ copyId: string }> {
    const { schoolId, personId } = viewer
    const original = await copyOf(this.source, schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(original, viewer), original.facts, 'make a copy of their own', Date.now()))
    const { handoutId, itemId } = original
    const slotKey = slotOwn(itemId, personId)
    const own = async () => {
      const [copy] = await inSchool(this.source, schoolId).find(
        Copy,
        { handoutId, slotKey },
        { select: ['id', 'setAside'] },
      )
      return copy
    }
    const known = await own()
    if (known?.setAside) throw conflict('taken-back', 'Your teacher took back the copy that you made: ask them for it.')
    if (known) return { copyId: known.id }
    await inSchool(this.source, schoolId).insertMissing(OwnCopyMade, { handoutId, itemId, personId })
    await this.runs.applySome(schoolId, handoutId, personId, (changes) =>
      changes.filter((change) => change.slotKey === slotKey),
    )
    const made = await own()
    if (!made)
      throw conflict('not-made', 'Your copy is being made, which takes longer than it should: try again in a moment.')
    return { copyId: made.id }
  }
}
