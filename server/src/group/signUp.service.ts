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
import { type SignUp, openSignUps, groupsToChoose, placesTaken } from './group.queries.js'

const CLOSED: Record<Exclude<ReturnType<typeof openState>, 'open'>, string> = {
  'not yet': 'This sign-up has not opened yet.',
  over: 'This sign-up is over.',
  closed: 'Your teacher has closed this sign-up.',
}

/** A set in which a student may choose a group, with the name of the one they are in. */
export interface SignUpListed extends Pick<SignUp, 'id' | 'name' | 'class' | 'state' | 'opensAt' | 'closesAt'> {
  readonly group: string | null
}

@Injectable()
export class SignUpService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** The sign-ups of somebody's classes that are open, or will be. */
  async mine(viewer: Viewer): Promise<SignUpListed[]> {
    const sets = await openSignUps(this.source, viewer.schoolId, viewer.personId)
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
    const groups = await groupsToChoose(this.source, viewer.schoolId, setId, classId)
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
        const [taken] = await placesTaken(tx, viewer.schoolId, groupId, classId)
        if (places !== null && taken!.n >= places)
          throw conflict('group-full', `${name} is full. Choose another group; your place so far is kept.`)
        await inSchool(tx, viewer.schoolId).put(
          GroupMember,
          { setId, personId: viewer.personId, groupId, at: () => 'now()' },
          ['groupId', 'at'],
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
