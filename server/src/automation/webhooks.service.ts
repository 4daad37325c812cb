import { type Viewer, mayTeach } from '@gavrin/core'
import { type BeforeApplicationShutdown, Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomBytes, randomUUID } from 'node:crypto'
import { isIP } from 'node:net'
import { DataSource } from 'typeorm'
import { roleInSchool } from '../access/access.queries.js'
import { hold } from '../access/viewer.js'
import { conflict, isDatabaseAway, malformed, notThere } from '../common/problemDetails.js'
import type { Settings } from '../common/settings.js'
import { SETTINGS } from '../common/tokens.js'
import { inSchool } from '../database/inSchool.js'
import { Webhook } from './automation.entity.js'
import { type WebhookDue, takeWebhooks } from './automation.queries.js'
import type { FeedKind } from './feedKinds.js'
import { isPublicAddress } from './publicAddress.js'
import { FeedService } from './feed.service.js'
import { sendSigned } from './sendSigned.js'

export const WEBHOOK_LIMITS = {
  ofPerson: 5,
  /** Events in one message. */
  events: 100,
  /** Sent to at once: a receiver that is slow keeps one of these busy for seconds. */
  atOnce: 8,
  /** After so many times in a row it is given up. */
  failures: 15,
} as const

/** How often it is looked for events, and for an address whose turn it is, in milliseconds. */
const LOOK = 2_000
/** How long after a failure it is tried again: twice as long each time, up to six hours. */
const pauseAfter = (failures: number): number => Math.min(6 * 3_600_000, 5_000 * 2 ** failures)

const ABOUT = ['id', 'address', 'kinds', 'madeAt', 'failures', 'lastAt', 'problem', 'stoppedAt', 'nextAt'] as const

/** Addresses that are told what happens: signed, once each, tried again with growing pauses, to the internet alone. */
@Injectable()
export class WebhooksService implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private readonly log = new Logger('webhooks')
  private clock: NodeJS.Timeout | null = null
  private looking: Promise<void> | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly feed: FeedService,
  ) {}

  onApplicationBootstrap(): void {
    this.clock = setInterval(() => void this.look(), LOOK)
    this.clock.unref()
  }

  async beforeApplicationShutdown(): Promise<void> {
    if (this.clock) clearInterval(this.clock)
    await this.looking
  }

  async all(viewer: Viewer) {
    hold(mayTeach(viewer))
    return inSchool(this.source, viewer.schoolId).find(
      Webhook,
      { personId: viewer.personId },
      { select: ABOUT, order: { madeAt: 'ASC' } },
    )
  }

  /** Adds an address; what happens from now on is sent to it. The secret is told this once. */
  async add(viewer: Viewer, typed: string, kinds: readonly FeedKind[]): Promise<{ id: string; secret: string }> {
    hold(mayTeach(viewer))
    const address = this.checked(typed)
    if (kinds.length === 0)
      throw malformed([{ code: 'no-kinds', field: 'kinds', sentence: 'Choose at least one thing to be told of.' }])
    const school = inSchool(this.source, viewer.schoolId)
    const own = await school.count(Webhook, { personId: viewer.personId })
    if (own >= WEBHOOK_LIMITS.ofPerson)
      throw conflict('too-many-webhooks', `You have ${WEBHOOK_LIMITS.ofPerson} addresses: remove one first.`)
    const now = Date.now()
    const id = randomUUID()
    const secret = randomBytes(32).toString('base64url')
    await school.insert(Webhook, {
      ...{ id, personId: viewer.personId, address, secret, kinds: [...kinds], madeAt: now, nextAt: now },
      sentUpTo: await this.feed.number(viewer.schoolId),
    })
    return { id, secret }
  }

  async remove(viewer: Viewer, id: string): Promise<void> {
    const gone = await inSchool(this.source, viewer.schoolId).delete(Webhook, { id, personId: viewer.personId })
    if (gone === 0) throw notThere()
  }

  /** Tries again now, also what was given up. */
  async tryAgain(viewer: Viewer, id: string): Promise<void> {
    const to = { nextAt: Date.now(), failures: 0, stoppedAt: null }
    const found = await inSchool(this.source, viewer.schoolId).update(Webhook, { id, personId: viewer.personId }, to)
    if (found === 0) throw notThere()
  }

  private checked(typed: string): string {
    const wrong = (sentence: string) => malformed([{ code: 'address', field: 'address', sentence }])
    let url: URL
    try {
      url = new URL(typed.trim())
    } catch {
      throw wrong('Type a web address, such as https://example.org/gavrin.')
    }
    const isPlain = this.settings.webhooksAnywhere && url.protocol === 'http:'
    if (url.protocol !== 'https:' && !isPlain) throw wrong('The address begins with https://.')
    const host = url.hostname.replace(/^\[|\]$/g, '')
    if (!this.settings.webhooksAnywhere && isIP(host) !== 0 && !isPublicAddress(host))
      throw wrong('This address is in a network of its own: only addresses of the internet are told.')
    if (url.username || url.password) throw wrong('Leave name and password out: what is sent is signed.')
    return url.href
  }

  /** Sends what there is to addresses whose turn it is. */
  async look(): Promise<void> {
    this.looking ??= this.sendAll()
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      })
      .finally(() => (this.looking = null))
    await this.looking
  }

  private async sendAll(): Promise<void> {
    const due = await takeWebhooks(this.source, WEBHOOK_LIMITS.atOnce)
    await Promise.all(due.map((one) => this.sendTo(one)))
  }

  private async sendTo({ schoolId, id }: WebhookDue): Promise<void> {
    const school = inSchool(this.source, schoolId)
    const [hook] = await school.find(Webhook, { id })
    if (!hook) return
    const role = await roleInSchool(this.source, schoolId, hook.personId)
    const now = Date.now()
    // Whoever left the school is told nothing any more.
    if (!role) return void (await school.update(Webhook, { id }, { stoppedAt: now, problem: 'The account has ended.' }))
    const viewer: Viewer = { schoolId, personId: hook.personId, role }
    const { events, next } = await this.feed.events(viewer, {
      ...{ after: hook.sentUpTo, kinds: hook.kinds, most: WEBHOOK_LIMITS.events },
    })
    if (events.length === 0) {
      await school.update(Webhook, { id }, { sentUpTo: next, nextAt: now + LOOK })
      return
    }
    const body = JSON.stringify({ webhookId: id, events })
    const problem = await sendSigned(hook.address, hook.secret, body, this.settings.webhooksAnywhere)
    const failures = problem === null ? 0 : hook.failures + 1
    const isGivenUp = failures >= WEBHOOK_LIMITS.failures
    await school.update(
      Webhook,
      { id },
      {
        ...{ failures, problem, lastAt: now },
        ...(problem === null && { sentUpTo: next }),
        nextAt: problem === null ? now : now + pauseAfter(failures),
        ...(isGivenUp && { stoppedAt: now }),
      },
    )
  }
}
