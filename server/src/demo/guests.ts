import type { Viewer } from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { DataSource } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { WalkInService } from '../handout/walkIn.service.js'
import { studentsOf } from '../roster/students.js'
import { WalkIn } from '../slip/slip.entity.js'
import { DEMO_SCHOOL_ID } from './school.js'
import { dueIn, work, working } from './work.js'

/** Students who came in by a walk-in link, for they had forgotten their passwords, and wrote: to be matched. */
export async function studentsComeAsGuests(
  app: INestApplication,
  of: { readonly id: string; readonly lead: Viewer },
  handout: { readonly id: string; readonly itemId: string },
  now: number,
): Promise<void> {
  const source = app.get(DataSource)
  const walkIns = app.get(WalkInService)
  await walkIns.set(
    of.lead,
    handout.id,
    handout.itemId,
    { permission: 'edit', open: true, endsAt: dueIn(4, now), places: 40 },
    false,
  )
  const [link] = await inSchool(source, DEMO_SCHOOL_ID).find(WalkIn, { handoutId: handout.id }, { select: ['code'] })
  const students = await studentsOf(source, DEMO_SCHOOL_ID, of.id)
  const [one, two] = [students[5]!, students[9]!]
  for (const [index, name] of [`${one.first} ${one.last[0]}`, two.first.toLowerCase(), 'Seagull'].entries()) {
    const { guest, copyId } = await walkIns.enter(link!.code, name, '127.0.0.1', undefined)
    const times = { givenAt: now - 3_000_000, dueAt: now }
    await work(source, { copyId: copyId!, personId: guest.personId }, working(0.3 + 0.2 * index), index, times)
  }
}
