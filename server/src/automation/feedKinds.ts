import type { JournalKind } from '@gavrin/core'

/** What a program is told of, and the entry of a journal that it is. */
export const FEED_KINDS = {
  'handed out': 'given',
  opened: 'opened',
  submitted: 'submitted',
  'taken back': 'taken back',
  'pens down': 'pens down',
  'pens up': 'pens up',
  'set aside': 'set aside',
  'brought back': 'brought back',
  marked: 'marked',
  'handed back': 'handed back',
} as const satisfies Record<string, JournalKind>
export type FeedKind = keyof typeof FEED_KINDS

export const FEED_KIND_NAMES = Object.keys(FEED_KINDS) as FeedKind[]

const NAMES = new Map(Object.entries(FEED_KINDS).map(([name, kind]) => [kind as JournalKind, name as FeedKind]))

export const feedKindOf = (kind: JournalKind): FeedKind => NAMES.get(kind)!
