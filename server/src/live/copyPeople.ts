import {
  type OpenWindow,
  type Viewer,
  fullName,
  isOfStaff,
  isPeerReader,
  maySeeAt,
  mayWithCopy,
  mayWriteAt,
  peopleHere,
} from '@gavrin/core'
import { roleIn } from '../kept/copyRecord.js'
import type { Channel, LiveCopy } from './liveCopy.js'

/** Where somebody says that they are in a copy. */
export interface Whereabouts {
  readonly space: string | null
  readonly at: string | null
  readonly away: boolean
}

/** How long what is said of where people are is gathered before everybody is told, in milliseconds. */
const GATHER = 80

/**
 * Who has which copy open, and where they are in it. It is kept nowhere but here, and goes with the window. Who somebody is, is
 * known by their connection; a page says no more than where it is.
 */
export class CopyPeople {
  private readonly changed = new Set<LiveCopy>()
  private readonly keys = new WeakMap<LiveCopy, Map<string, number>>()
  /** Those in which somebody was told of others. */
  private readonly told = new WeakSet<LiveCopy>()
  private timer: NodeJS.Timeout | null = null

  /** Somebody has opened a copy, or closed a window of it. */
  changedIn(copy: LiveCopy): void {
    this.changed.add(copy)
    this.timer ??= setTimeout(() => this.tell(), GATHER).unref()
  }

  /** Somebody is elsewhere in a copy now. Where they cannot write they are not. */
  moved(channel: Channel, { space, at, away }: Whereabouts): void {
    const { copy, connection } = channel
    const { viewer } = connection
    const isTheirs = space !== null && mayBeAt(copy, viewer, space)
    channel.here = { space: isTheirs ? space : null, at: isTheirs ? at : null, isAway: away, saidAt: Date.now() }
    // Nobody else would see it.
    if (copy.channels.size > 1) this.changedIn(copy)
  }

  stop(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    this.changed.clear()
  }

  private tell(): void {
    this.timer = null
    const copies = [...this.changed]
    this.changed.clear()
    for (const copy of copies) if (!copy.dropped) this.tellIn(copy)
  }

  private tellIn(copy: LiveCopy): void {
    const channels = [...copy.channels]
    const keys = this.keys.get(copy) ?? new Map<string, number>()
    this.keys.set(copy, keys)
    const windows = channels.map((channel): OpenWindow => {
      const { viewer, name } = channel.connection
      const { facts } = copy.record
      const role = roleIn(copy.record, viewer)
      if (!keys.has(viewer.personId)) keys.set(viewer.personId, keys.size)
      return {
        personId: viewer.personId,
        first: name.first,
        name: fullName(name),
        isStaff: isOfStaff(role),
        isUnnamed: !facts.readersNamed && isPeerReader(viewer, role, facts),
        ...channel.here,
      }
    })
    // Who is alone is told nothing, but that the others have gone.
    const isAlone = new Set(windows.map(({ personId }) => personId)).size < 2
    if (isAlone && !this.told.has(copy)) return
    if (isAlone) this.told.delete(copy)
    else this.told.add(copy)
    for (const { connection, number } of channels) {
      const { viewer } = connection
      const role = roleIn(copy.record, viewer)
      const sees = (space: string) => maySeeAt(viewer, role, copy.record.facts, space, Date.now())
      const people = peopleHere(windows, keys, viewer, copy.record.facts.staffShown)
      // Where others are in a place that is hidden is nobody's to know.
      const shown = people.map((one) =>
        one.space === null || sees(one.space) ? one : { ...one, space: null, at: null },
      )
      connection.send({ type: 'people', channel: number, people: shown })
    }
  }
}

/** Whether somebody could be writing there. */
function mayBeAt(copy: LiveCopy, viewer: Viewer, space: string): boolean {
  const { facts } = copy.record
  return (
    copy.has(space) &&
    mayWithCopy(viewer, roleIn(copy.record, viewer), facts, 'write', Date.now()).may &&
    mayWriteAt(viewer, facts, space).may
  )
}
