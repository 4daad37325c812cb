import {
  type OpenTimes,
  type PersonTwin,
  type Viewer,
  checkRoster,
  cleanRow,
  emailKey,
  openState,
  personTwins,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, Any } from 'typeorm'
import { type Growing, holdBack } from '../access/attempts.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { MailroomService } from '../mail/mailroom.service.js'
import { classCodeOf, newClassCode } from '../common/classCode.js'
import { holdInClass } from '../access/classRole.js'
import { RosterService } from '../roster/roster.service.js'
import { studentsOf } from '../roster/students.js'
import { type RosterStudent } from '../roster/roster.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Class } from '../access/access.entity.js'
import { KeptJoinRequest } from './join.entity.js'
import { type CodeRow, setClassCode, classByCode } from './join.queries.js'

/** A join page as its class sees it. */
export interface JoinPage extends OpenTimes {
  /** How many may wait at most. */
  readonly places: number
  readonly code: string
  readonly requests: readonly JoinRequest[]
}

/** Somebody who asks to be let in, with who in the class they may be. */
export interface JoinRequest {
  readonly id: string
  readonly first: string
  readonly last: string
  readonly email: string
  readonly at: number
  readonly twins: readonly {
    readonly personId: string
    readonly first: string
    readonly last: string
    readonly email: string | null
    readonly left: boolean
    readonly reason: PersonTwin<RosterStudent>['reason']
  }[]
}

/** What strangers are told of a class whose code they have. */
export interface JoinFace {
  readonly class: string
  readonly subject: string
  readonly school: string
  /** IANA time zone and language tag of the school: whoever asks may not be signed in. */
  readonly timeZone: string
  readonly locale: string
  readonly state: ReturnType<typeof openState>
  readonly opensAt: number | null
  readonly closesAt: number | null
}

/** From one address within a quarter of an hour: a whole school may share it, and guessing a code would take millions. */
const CODE_LOOKS: Growing = { free: 3_000, first: 1, most: 10 }
/** Requests by one code from one address: a class asks within minutes, a loop is slowed down. */
const ASKS: Growing = { free: 60, first: 2, most: 30 }
const SHUT: Record<Exclude<JoinFace['state'], 'open'>, string> = {
  'not yet': 'This page is not open yet: come back at the time it says.',
  over: 'This page is closed: ask your teacher.',
  closed: 'This page is closed: ask your teacher.',
}

@Injectable()
export class JoinService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly rosters: RosterService,
    private readonly mailroom: MailroomService,
    private readonly events: Events,
  ) {}

  async page(viewer: Viewer, classId: string): Promise<JoinPage> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    const [page] = await inSchool(this.source, viewer.schoolId).find(
      Class,
      { id: classId },
      { select: ['code', 'joinOpen', 'joinOpensAt', 'joinClosesAt', 'joinPlaces'] },
    )
    const students = await studentsOf(this.source, viewer.schoolId, classId)
    const requests = await inSchool(this.source, viewer.schoolId).find(
      KeptJoinRequest,
      { classId, state: 'waiting' },
      { select: ['id', 'first', 'last', 'email', 'at'], order: { at: 'ASC', id: 'ASC' } },
    )
    return {
      code: page!.code,
      open: page!.joinOpen,
      opensAt: page!.joinOpensAt,
      closesAt: page!.joinClosesAt,
      places: page!.joinPlaces,
      requests: requests.map((request) => ({
        ...request,
        email: request.email ?? '',
        twins: personTwins(request, students)
          .slice(0, 3)
          .map(({ reason, person: { personId, first, last, email, leftAt } }) => ({
            personId,
            first,
            last,
            email,
            left: leftAt !== null,
            reason,
          })),
      })),
    }
  }

  async keep(
    viewer: Viewer,
    classId: string,
    { open, opensAt, closesAt, places }: OpenTimes & { readonly places?: number },
  ): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    if (opensAt !== null && closesAt !== null && closesAt <= opensAt)
      throw malformed([{ code: 'join-times', field: 'closesAt', sentence: 'The page closes before it opens.' }])
    await inSchool(this.source, viewer.schoolId).update(
      Class,
      { id: classId },
      {
        joinOpen: open,
        joinOpensAt: opensAt,
        joinClosesAt: closesAt,
        ...(places !== undefined && { joinPlaces: places }),
      },
    )
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'join page' })
  }

  /** A new code; the old one leads nowhere from now on. */
  async renewCode(viewer: Viewer, classId: string): Promise<{ code: string }> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    for (;;) {
      const code = newClassCode()
      const done = await setClassCode(this.source, viewer.schoolId, classId, code)
      if (done) {
        await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'join page' })
        return { code }
      }
    }
  }

  /**
   * Lets people in, each as somebody new or as a student who is there already, and turns others away. Whoever is let in and
   * cannot sign in yet is invited by mail.
   */
  async decide(
    viewer: Viewer,
    classId: string,
    letIn: readonly { readonly id: string; readonly as: string | null }[],
    turnAway: readonly string[],
  ): Promise<{ letIn: number; turnedAway: number }> {
    await holdInClass(this.source, viewer, classId, 'change the roster')
    const waiting = new Map((await this.page(viewer, classId)).requests.map((request) => [request.id, request]))
    const students = new Map(
      (await studentsOf(this.source, viewer.schoolId, classId)).map((student) => [student.personId, student]),
    )
    const chosen = letIn.flatMap(({ id, as }) => {
      const request = waiting.get(id)
      return request ? [{ request, as: as === null ? null : (students.get(as) ?? null) }] : []
    })
    // As somebody who is there: the e-mail is what they bring; the name stays as the teacher has it.
    const known = chosen.filter(({ as }) => as !== null)
    await this.rosters.setLeft(
      viewer,
      classId,
      known.map(({ as }) => as!.personId),
      false,
    )
    const addressed = known.filter(({ as, request }) => !as!.email && request.email)
    if (addressed.length)
      await this.rosters.edit(
        viewer,
        classId,
        addressed.map(({ as, request }) => ({ personId: as!.personId, field: 'email', value: request.email })),
      )
    const fresh = chosen.filter(({ as }) => as === null).map(({ request }) => request)
    if (fresh.length)
      await this.rosters.save(
        viewer,
        classId,
        fresh.map(({ first, last, email }) => ({ first, last, email })),
      )
    const counts = await this.source.transaction(async (tx) => {
      const mark = (state: 'let in' | 'turned away', ids: readonly string[]) => {
        return inSchool(tx, viewer.schoolId).update(
          KeptJoinRequest,
          { classId, id: Any(ids), state: 'waiting' },
          { state, decidedAt: () => 'now()', decidedBy: viewer.personId },
        )
      }
      return {
        letIn: await mark(
          'let in',
          chosen.map(({ request }) => request.id),
        ),
        turnedAway: await mark('turned away', turnAway),
      }
    })
    const emails = new Set(chosen.map(({ request }) => emailKey(request.email)))
    // Somebody who was known under another address gets it there.
    const letInAs = new Set(known.map(({ as }) => as!.personId))
    const invited = (await studentsOf(this.source, viewer.schoolId, classId)).filter(
      ({ personId, email, canSignIn, leftAt }) =>
        !canSignIn && leftAt === null && email && (emails.has(emailKey(email)) || letInAs.has(personId)),
    )
    if (invited.length)
      await this.mailroom.invite(
        viewer,
        classId,
        invited.map(({ personId }) => personId),
      )
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'join page' })
    return counts
  }

  /** What stands on the join page of a code. */
  async face(code: string, address: string): Promise<JoinFace> {
    await holdBack(this.source, 'class code from', address, CODE_LOOKS)
    const row = await this.byCode(code)
    if (!row) throw notThere()
    const times = { open: row.open, opensAt: row.opens?.getTime() ?? null, closesAt: row.closes?.getTime() ?? null }
    return {
      class: row.name,
      subject: row.subject,
      school: row.school,
      timeZone: row.time_zone,
      locale: row.locale,
      state: openState(times, Date.now()),
      opensAt: times.opensAt,
      closesAt: times.closesAt,
    }
  }

  /** Somebody asks to be let in. Asking again with the same e-mail corrects what was asked before. */
  async ask(
    code: string,
    input: { readonly first: string; readonly last: string; readonly email: string },
    address: string,
  ): Promise<void> {
    const face = await this.face(code, address)
    await holdBack(this.source, 'join request', `${classCodeOf(code)} ${address}`, ASKS)
    if (face.state !== 'open') throw conflict('join-shut', SHUT[face.state])
    const row = cleanRow({ first: input.first, last: input.last, email: input.email })
    const problems = checkRoster([row], [])
      .rows[0]!.doubts.filter(({ stops }) => stops)
      .map(({ code: problem, field, sentence }) => ({
        code: problem,
        field,
        sentence: problem === 'no-name' ? 'Type your name.' : sentence,
      }))
    if (!row.email) problems.push({ code: 'no-email', field: 'email', sentence: 'Type your e-mail address.' })
    if (problems.length) throw malformed(problems)
    const found = (await this.byCode(code))!
    await this.source.transaction(async (tx) => {
      await inSchool(tx, found.school_id).hold(Class, { id: found.id })
      const again = await inSchool(tx, found.school_id).update(
        KeptJoinRequest,
        { classId: found.id, emailKey: emailKey(row.email), state: 'waiting' },
        { first: row.first, last: row.last },
      )
      if (again) return
      const waiting = await inSchool(tx, found.school_id).count(KeptJoinRequest, {
        classId: found.id,
        state: 'waiting',
      })
      if (waiting >= found.places)
        throw conflict('join-full', 'As many are waiting as your teacher lets wait: ask your teacher.')
      await inSchool(tx, found.school_id).insert(KeptJoinRequest, {
        classId: found.id,
        first: row.first,
        last: row.last,
        email: row.email,
        emailKey: emailKey(row.email),
      })
    })
    await this.events.tell('class changed', { schoolId: found.school_id, classId: found.id, part: 'join page' })
  }

  private async byCode(code: string): Promise<CodeRow | null> {
    const [row] = await classByCode(this.source, classCodeOf(code))
    return row ?? null
  }
}
