import { randomUUID } from 'node:crypto'
import type { Viewer } from '@gavrin/core'
import { notThere } from '../common/problemDetails.js'
import type { ReadList } from './listFile.js'

/** How long the further rows of a list lie here to be fetched, in milliseconds, and how much of all lists. */
const LIFE = 10 * 60_000
const BYTES_IN_ALL = 200_000_000

interface Kept {
  readonly personId: string
  readonly pages: ReadList['pages']
  readonly size: number
  readonly until: number
}

/** Lists that were read and do not go in one answer: the rest of their rows, a page at a time, for whoever brought them in. */
export class ReadLists {
  private readonly kept = new Map<string, Kept>()

  /** Keeps the further pages of a list, in place of the last one of this person; under which id they are asked for. */
  keep({ personId }: Pick<Viewer, 'personId'>, { pages }: ReadList): string {
    const size = pages.flat().reduce((sum, { length }) => sum + length, 0)
    const now = Date.now()
    for (const [id, one] of this.kept) if (one.personId === personId || one.until < now) this.kept.delete(id)
    let total = size
    for (const one of this.kept.values()) total += one.size
    // The oldest first.
    for (const [id, one] of this.kept) {
      if (total <= BYTES_IN_ALL) break
      this.kept.delete(id)
      total -= one.size
    }
    const id = randomUUID()
    this.kept.set(id, { personId, pages, size, until: now + LIFE })
    return id
  }

  /** A page of rows as JSON; page 1 is the first after those of the answer. */
  page({ personId }: Pick<Viewer, 'personId'>, id: string, table: number, page: number): Uint8Array {
    const found = this.kept.get(id)
    const bytes = found?.pages[table]?.[page - 1]
    if (!found || found.personId !== personId || found.until < Date.now() || !bytes) throw notThere()
    return bytes
  }
}
