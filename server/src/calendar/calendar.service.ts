import { type Viewer, mayHaveCalendar } from '@gavrin/core'
import { Inject, Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import ical, { type ICalEventData } from 'ical-generator'
import { randomBytes } from 'node:crypto'
import { DataSource } from 'typeorm'
import { type Growing, noteAttempt, slowDown } from '../access/attempts.js'
import { roleInSchool } from '../access/access.queries.js'
import { hold } from '../access/viewer.js'
import { notThere } from '../common/problemDetails.js'
import type { Settings } from '../common/settings.js'
import { SETTINGS } from '../common/tokens.js'
import { inSchool } from '../database/inSchool.js'
import { CalendarAddress } from './calendar.entity.js'
import { dueCopies, dueHandouts, personOfAddress } from './calendar.queries.js'

/** Addresses that lead nowhere, from one place: calendars of a whole school may come from it. */
const WRONG: Growing = { free: 60, first: 1, most: 10 }
/** What was due stays in a calendar so long, in milliseconds. */
const KEPT = 60 * 86_400_000
/** Entries that a calendar has at most. */
const ENTRIES = 1_000
/** How often a calendar is asked to look again, in seconds. */
const AGAIN = 3_600
const TOKEN = /^([A-Za-z0-9_-]{43})\.ics$/

/** Calendars (iCalendar, RFC 5545) of what is due, each under a secret address. */
@Injectable()
export class CalendarService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** The address of somebody's calendar; null: they have none. */
  async address({ schoolId, personId }: Viewer): Promise<{ address: string | null }> {
    const [found] = await inSchool(this.source, schoolId).find(CalendarAddress, { personId }, { select: ['token'] })
    return { address: found ? this.addressOf(found.token) : null }
  }

  /** Makes an address; one that there was leads nowhere from then on. */
  async renew(viewer: Viewer): Promise<{ address: string | null }> {
    hold(mayHaveCalendar(viewer))
    const { schoolId, personId } = viewer
    const token = randomBytes(32).toString('base64url')
    await inSchool(this.source, schoolId).put(CalendarAddress, { personId, token, madeAt: Date.now() }, [
      'token',
      'madeAt',
    ])
    return { address: this.addressOf(token) }
  }

  async drop({ schoolId, personId }: Viewer): Promise<void> {
    await inSchool(this.source, schoolId).delete(CalendarAddress, { personId })
  }

  /** The calendar under an address, as a file. */
  async feed(file: string, from: string): Promise<string> {
    await slowDown(this.source, 'calendar', from, WRONG)
    const token = TOKEN.exec(file)?.[1]
    const [whose] = token ? await personOfAddress(this.source, token) : []
    const role = whose && (await roleInSchool(this.source, whose.schoolId, whose.personId))
    if (!whose || !role) {
      await noteAttempt(this.source, 'calendar', from)
      throw notThere()
    }
    const calendar = ical({
      name: 'Gavrin',
      prodId: { company: 'Gavrin', product: 'Gavrin', language: 'EN' },
      ttl: AGAIN,
    })
    for (const entry of await this.entries({ ...whose, role })) calendar.createEvent(entry)
    return calendar.toString()
  }

  private async entries({ schoolId, personId, role }: Viewer): Promise<ICalEventData[]> {
    const from = new Date(Date.now() - KEPT)
    const { publicUrl } = this.settings.mail
    const entry = (id: string, dueAt: number, rest: Pick<ICalEventData, 'summary' | 'description' | 'url'>) => ({
      ...{ id: `${id}@gavrin`, start: new Date(dueAt), stamp: new Date(), ...rest },
    })
    if (role === 'student')
      return (await dueCopies(this.source, schoolId, personId, from, ENTRIES)).map((due) =>
        entry(due.id, due.dueAt, {
          summary: `${due.title} is due`,
          description: `${due.handout}, No. ${due.number} · ${due.class} · ${due.state}`,
          url: `${publicUrl}/copies/${due.id}`,
        }),
      )
    return (await dueHandouts(this.source, schoolId, personId, from, ENTRIES)).map((due) =>
      entry(`${due.id}-${due.dueAt}`, due.dueAt, {
        summary: `${due.title} is due (${due.class})`,
        description: `No. ${due.number} · ${due.class}`,
        url: `${publicUrl}/class/${due.classId}/handouts/${due.id}`,
      }),
    )
  }

  private readonly addressOf = (token: string) => `${this.settings.mail.publicUrl}/api/calendar/${token}.ics`
}
