import { type Viewer, mayInClass, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { classRole, helpedBy } from '../access/classRole.js'
import { hold } from '../access/viewer.js'
import { beginFeed, classesOfStaff, eventsAfter, lastEvent, numberEvents } from './automation.queries.js'
import { FEED_KINDS, FEED_KIND_NAMES, type FeedKind, feedKindOf } from './feedKinds.js'

/** Events at once, and numbered at once. */
export const FEED_LIMITS = { page: 500, numbered: 5_000 } as const

/** Something that happened to a copy. */
export interface SchoolEvent {
  /** To be read on from. */
  readonly number: number
  /** Milliseconds since 1970. */
  readonly at: number
  readonly kind: FeedKind
  readonly classId: string
  readonly handoutId: string
  readonly copyId: string
  /** Who did it; null: the clock. */
  readonly byPersonId: string | null
  /** Who holds the copy. */
  readonly holderIds: readonly string[]
}

/** What happens in the classes of somebody, one after the other. */
@Injectable()
export class FeedService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /**
   * What happened after an event, in the classes of whose staff somebody is. Read on from `next`: nothing is ever missed.
   * @param after the number of an event; 0: from the beginning
   */
  async events(
    viewer: Viewer,
    {
      after,
      kinds,
      most,
    }: { readonly after: number; readonly kinds: readonly FeedKind[] | null; readonly most: number },
  ): Promise<{ events: SchoolEvent[]; next: number }> {
    hold(mayTeach(viewer))
    const { schoolId } = viewer
    await this.number(schoolId)
    // Of what comes from here on nothing is in what was read before.
    const last = await lastEvent(this.source, schoolId)
    const classes = new Map<string, ReadonlySet<string> | null>()
    for (const { classId } of await classesOfStaff(this.source, schoolId, viewer.personId)) {
      const { role } = await classRole(this.source, viewer, classId)
      if (mayInClass(role, 'see handouts').may) classes.set(classId, await helpedBy(this.source, viewer, classId, role))
    }
    const rows = await eventsAfter(this.source, schoolId, {
      ...{ after, most, classIds: [...classes.keys()] },
      kinds: (kinds ?? FEED_KIND_NAMES).map((kind) => FEED_KINDS[kind]),
    })
    return {
      events: rows
        .filter(({ classId, holderIds }) => {
          const helped = classes.get(classId)
          return !helped || holderIds.some((id) => helped.has(id))
        })
        .map(({ kind, personId, at, ...row }) => ({
          ...{ ...row, at: Math.round(at), kind: feedKindOf(kind), byPersonId: personId },
        })),
      next: rows.length === most ? rows.at(-1)!.number : Math.max(after, last),
    }
  }

  /** Numbers what has happened since it was looked at last. */
  async number(schoolId: string): Promise<number> {
    await beginFeed(this.source, schoolId)
    for (;;) {
      const count = await this.source.transaction((tx) =>
        numberEvents(tx, schoolId, Object.values(FEED_KINDS), FEED_LIMITS.numbered),
      )
      if (count < FEED_LIMITS.numbered) return lastEvent(this.source, schoolId)
    }
  }
}
