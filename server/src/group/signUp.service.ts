import { type OpenTimes, type Viewer, openState } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { conflict, notThere } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { holdInClass } from '../access/classRole.js'
import { holdGroup, lockSet, renewed } from './group.service.js'
import { inSchool } from '../database/inSchool.js'
import { Class } from '../access/access.entity.js'
import { GroupMember, KeptGroupSet } from './group.entity.js'

/** A sign-up as a student of the class sees it. */
export interface SignUp {
  readonly id: string
  readonly name: string
  readonly class: string
  readonly state: ReturnType<typeof openState>
  readonly opensAt: number | null
  readonly closesAt: number | null
  readonly groups: readonly {
    readonly id: string
    readonly name: string
    readonly places: number | null
    readonly people: readonly { readonly first: string; readonly last: string }[]
  }[]
  /** The group this student is in. */
  readonly mine: string | null
  /** The teacher has put this student where they are. */
  readonly kept: boolean
}

const CLOSED: Record<Exclude<ReturnType<typeof openState>, 'open'>, string> = {
  'not yet': 'This sign-up has not opened yet.',
  over: 'This sign-up is over.',
  closed: 'Your teacher has closed this sign-up.',
}

@Injectable()
export class SignUpService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** The sign-ups of somebody's classes that are open, or will be. */
  async mine(viewer: Viewer): Promise<Pick<SignUp, 'id' | 'name' | 'class' | 'state' | 'opensAt' | 'closesAt'>[]> {
    const sets = await this.source.query<
      { id: string; name: string; class: string; opens: Date | null; closes: Date | null; group: string | null }[]
    >(
      `SELECT s.id, s.name, c.name AS class, s.sign_up_opens_at AS opens, s.sign_up_closes_at AS closes,
              (SELECT g.name FROM group_member o JOIN class_group g ON g.school_id = o.school_id AND g.id = o.group_id
                WHERE o.school_id = s.school_id AND o.set_id = s.id AND o.person_id = m.person_id) AS "group"
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
         JOIN group_set s ON s.school_id = m.school_id AND s.class_id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 AND m.role = 'student' AND m.left_at IS NULL AND c.archived_at IS NULL
          AND s.removed_at IS NULL AND s.sign_up_open AND (s.sign_up_closes_at IS NULL OR s.sign_up_closes_at > now())
        ORDER BY s.sign_up_closes_at NULLS LAST, s.name`,
      [viewer.schoolId, viewer.personId],
    )
    const now = Date.now()
    return sets.map(({ opens, closes, ...set }) => {
      const times = { open: true, opensAt: opens?.getTime() ?? null, closesAt: closes?.getTime() ?? null }
      return { ...set, opensAt: times.opensAt, closesAt: times.closesAt, state: openState(times, now) }
    })
  }

  async open(viewer: Viewer, setId: string): Promise<SignUp> {
    const { classId, times, name } = await this.find(this.source.manager, viewer, setId)
    await holdInClass(this.source, viewer, classId, 'sign up')
    const [about] = await inSchool(this.source, viewer.schoolId).find(Class, { id: classId }, { select: ['name'] })
    const groups = await this.source.query<SignUp['groups'][number][]>(
      `SELECT g.id, g.name, g.places,
              (SELECT coalesce(json_agg(json_build_object('first', p.first_name, 'last', p.last_name) ORDER BY o.at), '[]')
                 FROM group_member o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id
                 JOIN class_member m ON m.school_id = o.school_id AND m.class_id = $3 AND m.person_id = o.person_id AND m.left_at IS NULL
                WHERE o.school_id = g.school_id AND o.group_id = g.id) AS people
         FROM class_group g WHERE g.school_id = $1 AND g.set_id = $2 ORDER BY g.position, g.id`,
      [viewer.schoolId, setId, classId],
    )
    const [own] = await inSchool(this.source, viewer.schoolId).find(
      GroupMember,
      { setId, personId: viewer.personId },
      { select: ['groupId', 'locked'] },
    )
    return {
      id: setId,
      name,
      class: about!.name,
      state: openState(times, Date.now()),
      opensAt: times.opensAt,
      closesAt: times.closesAt,
      groups,
      mine: own?.groupId ?? null,
      kept: own?.locked ?? false,
    }
  }

  /** Puts a student in a group, or in none: first come, first served, and never more than there are places. */
  async choose(viewer: Viewer, setId: string, groupId: string | null): Promise<SignUp> {
    const classId = await this.source.transaction(async (tx) => {
      // Everybody who signs up waits here for the one before.
      await lockSet(tx, viewer.schoolId, setId)
      const { classId, times } = await this.find(tx, viewer, setId)
      await holdInClass(tx, viewer, classId, 'sign up')
      const state = openState(times, Date.now())
      if (state !== 'open') throw conflict('sign-up-closed', CLOSED[state])
      const [own] = await inSchool(tx, viewer.schoolId).find(
        GroupMember,
        { setId, personId: viewer.personId },
        { select: ['groupId', 'locked'] },
      )
      if (own?.locked) throw conflict('kept', 'Your teacher has put you in your group: ask them to change it.')
      if (own?.groupId === groupId) return classId
      if (groupId === null)
        await inSchool(tx, viewer.schoolId).delete(GroupMember, { setId, personId: viewer.personId })
      else {
        const { name, places } = await holdGroup(tx, viewer.schoolId, setId, groupId)
        const [taken] = await tx.query<{ n: number }[]>(
          `SELECT count(*)::int AS n FROM group_member o
             JOIN class_member m ON m.school_id = o.school_id AND m.class_id = $3 AND m.person_id = o.person_id AND m.left_at IS NULL
            WHERE o.school_id = $1 AND o.group_id = $2`,
          [viewer.schoolId, groupId, classId],
        )
        if (places !== null && taken!.n >= places)
          throw conflict('group-full', `${name} is full. Choose another group; your place so far is kept.`)
        await tx.query(
          `INSERT INTO group_member (school_id, set_id, person_id, group_id) VALUES ($1, $2, $3, $4)
           ON CONFLICT (school_id, set_id, person_id) DO UPDATE SET group_id = EXCLUDED.group_id, at = now()`,
          [viewer.schoolId, setId, viewer.personId, groupId],
        )
      }
      await renewed(tx, viewer.schoolId, setId)
      return classId
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'groups' })
    return this.open(viewer, setId)
  }

  private async find(
    database: EntityManager,
    viewer: Viewer,
    setId: string,
  ): Promise<{ classId: string; name: string; times: OpenTimes }> {
    const [set] = await inSchool(database, viewer.schoolId).find(
      KeptGroupSet,
      { id: setId, removedAt: null },
      { select: ['classId', 'name', 'signUpOpen', 'signUpOpensAt', 'signUpClosesAt'] },
    )
    if (!set) throw notThere()
    return {
      classId: set.classId,
      name: set.name,
      times: { open: set.signUpOpen, opensAt: set.signUpOpensAt, closesAt: set.signUpClosesAt },
    }
  }
}
