import { expect, test } from '@jest/globals'
import { type WorksheetContent, newAnswerDoc } from '@gavrin/core'
import * as Y from 'yjs'
import type { CopyRecord } from '../dist/kept/copyRecord.js'
import { acceptUpdate } from '../dist/live/acceptUpdate.js'
import { LiveCopy } from '../dist/live/liveCopy.js'

const content: WorksheetContent = {
  version: 2,
  page: 'A4',
  source: '',
  blocks: [{ id: 'line', kind: 'line', width: 'full' }],
}
const record = {
  content,
  facts: {
    schoolId: 's',
    state: 'working',
    way: 'one each',
    pensDown: false,
    pensDownFrom: null,
    setAside: false,
    pensDownAtDue: false,
    opensAt: null,
    dueAt: null,
    holders: new Map([['ada', 'edit']]),
    readers: new Map(),
    invited: new Map(),
    classmatesMay: 'none',
    mayInvite: false,
    places: [],
    reserved: new Map(),
    guestIs: new Map(),
    othersPlaces: 'read',
  },
  roles: new Map([['ada', 'student']]),
  formerWriters: new Set(),
} as unknown as CopyRecord

/** What becomes of a line of so many letters, and what it is charged. */
async function sent(letters: number) {
  const copy = new LiveCopy(record)
  const viewer = { schoolId: 's', personId: 'ada', role: 'student' } as const
  const doc = newAnswerDoc('line')
  copy.space('line')!.writers.set(doc.clientID, 'ada')
  doc.getText('line').insert(0, 'x'.repeat(letters))
  let charged = 0
  const accepted = await acceptUpdate(
    copy,
    { viewer, couldWrite: () => true },
    { space: 'line', bytes: Y.encodeStateAsUpdate(doc) },
    {
      worker: { run: () => Promise.resolve(null) },
      budget: { charge: (milliseconds: number) => (charged += milliseconds) } as never,
      pensFree: () => undefined,
      log: () => undefined,
    },
  )
  return { accepted, charged }
}

test('what is refused is charged for: it was looked through for nothing', async () => {
  const taken = await sent(2_000)
  expect(taken.accepted).toEqual({ outcome: 'applied' })
  const refused = await sent(2_001)
  expect(refused.accepted).toMatchObject({ outcome: 'refused', code: 'full' })
  expect(refused.charged).toBeGreaterThan(taken.charged + 0.5)
})
