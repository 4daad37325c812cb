import {
  type Arrangement,
  type OpenTimes,
  type Viewer,
  checkArrangement,
  checkGroupName,
  checkPlaces,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager, Any } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { amongStudents, lockClass } from '../roster/students.js'
import { groupSetsOf, writeArrangement } from './groupSets.js'
import { type GroupSet } from './group.queries.js'
import { inSchool } from '../database/inSchool.js'
import { ClassGroup, GroupMember, KeptGroupSet } from './group.entity.js'
import { addGroupSet, placeInGroup, sayDifferent, lockGroupSet, renewGroupSet } from './group.queries.js'

/** What a set is called, which column it is balanced by, and when and how many students may sign up. */
export interface GroupSetInput {
  readonly name: string
  readonly balanceColumn: string | null
  readonly signUp: OpenTimes
  /** How many may sign up, of the groups where that is to be another. Null: no limit. */
  readonly places: readonly { readonly groupId: string; readonly places: number | null }[]
}

const SETS_LIMIT = 50
const EMPTY: Arrangement = { groups: [], locked: [], pairs: [] }

@Injectable()
export class GroupService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  async list(viewer: Viewer, classId: string): Promise<GroupSet[]> {
    const role = await holdInClass(this.source, viewer, classId, 'see groups')
    const helped = await helpedBy(this.source, viewer, classId, role)
    const sets = await groupSetsOf(this.source, viewer.schoolId, classId)
    if (!helped) return sets
    const shown = (ids: readonly string[]) => ids.filter((id) => helped.has(id))
    return sets.map((set) => ({
      ...set,
      groups: set.groups.map((group) => ({ ...group, personIds: shown(group.personIds) })),
      locked: shown(set.locked),
      pairs: [],
    }))
  }

  async create(
    viewer: Viewer,
    classId: string,
    input: { readonly name: string; readonly balanceColumn: string | null; readonly arrangement: Arrangement | null },
  ): Promise<{ id: string }> {
    const arrangement = valueOf(checkArrangement(input.arrangement ?? EMPTY))
    const id = randomUUID()
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change groups')
      await lockClass(tx, viewer.schoolId, classId)
      const sets = await groupSetsOf(tx, viewer.schoolId, classId)
      if (sets.length >= SETS_LIMIT)
        throw malformed([
          { code: 'too-many-sets', field: 'name', sentence: `A class has up to ${SETS_LIMIT} group sets.` },
        ])
      const name = valueOf(
        checkGroupName(
          input.name,
          sets.map((set) => set.name),
        ),
      )
      await addGroupSet(tx, viewer.schoolId, { id, classId, name, balanceColumn: input.balanceColumn })
      await writeArrangement(tx, viewer.schoolId, classId, id, arrangement)
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'groups' })
    return { id }
  }

  /** Changes what the set is called, and when and how many students sign up, whoever signs up meanwhile. */
  async change(viewer: Viewer, setId: string, input: GroupSetInput): Promise<void> {
    await this.inSet(viewer, setId, async (tx, classId) => {
      const others = (await groupSetsOf(tx, viewer.schoolId, classId)).filter(({ id }) => id !== setId)
      const name = valueOf(
        checkGroupName(
          input.name,
          others.map((set) => set.name),
        ),
      )
      const { open, opensAt, closesAt } = input.signUp
      if (opensAt !== null && closesAt !== null && closesAt <= opensAt)
        throw malformed([
          { code: 'sign-up-times', field: 'signUp.closesAt', sentence: 'The sign-up closes before it opens.' },
        ])
      await inSchool(tx, viewer.schoolId).update(
        KeptGroupSet,
        { id: setId },
        {
          name,
          balanceColumn: input.balanceColumn,
          signUpOpen: open,
          signUpOpensAt: opensAt,
          signUpClosesAt: closesAt,
        },
      )
      if (!input.places.length) return
      for (const { groupId, places } of input.places) {
        await holdGroup(tx, viewer.schoolId, setId, groupId)
        await inSchool(tx, viewer.schoolId).update(
          ClassGroup,
          { id: groupId },
          { places: valueOf(checkPlaces(places, `places.${groupId}`)) },
        )
      }
      await renewed(tx, viewer.schoolId, setId)
    })
  }

  /** Divides the class anew. What somebody else did since is not written over: the one who comes second is told. */
  async arrange(viewer: Viewer, setId: string, version: number, input: Arrangement): Promise<{ version: number }> {
    const arrangement = valueOf(checkArrangement(input))
    return this.inSet(viewer, setId, async (tx, classId, now) => {
      if (now !== version)
        throw conflict(
          'groups-changed',
          'These groups were changed in another window, by a colleague or by a sign-up. Here they are as they are now; do it again if it is still right.',
          { version: now },
        )
      await writeArrangement(tx, viewer.schoolId, classId, setId, arrangement)
      return { version: await renewed(tx, viewer.schoolId, setId) }
    })
  }

  /** Moves people to a group, or to none. Of two who move the same person the last one counts. */
  async move(
    viewer: Viewer,
    setId: string,
    personIds: readonly string[],
    groupId: string | null,
  ): Promise<{ version: number }> {
    return this.inSet(viewer, setId, async (tx, classId) => {
      const students = await amongStudents(tx, viewer.schoolId, classId, personIds)
      if (groupId === null) await inSchool(tx, viewer.schoolId).delete(GroupMember, { setId, personId: Any(students) })
      else {
        await holdGroup(tx, viewer.schoolId, setId, groupId)
        await placeInGroup(tx, viewer.schoolId, { setId, personIds, groupId, students })
      }
      return { version: await renewed(tx, viewer.schoolId, setId) }
    })
  }

  /** Says that two groups whose names look alike are two; null: asks again about all of the set. */
  async tellApart(viewer: Viewer, setId: string, pair: readonly [string, string] | null): Promise<void> {
    await this.inSet(viewer, setId, async (tx) => {
      if (pair) for (const groupId of pair) await holdGroup(tx, viewer.schoolId, setId, groupId)
      await sayDifferent(tx, viewer.schoolId, setId, pair && JSON.stringify([[...pair].sort()]))
    })
  }

  /** Takes a set away, or brings it back as it was. */
  async remove(viewer: Viewer, setId: string, removed: boolean): Promise<void> {
    await this.inSet(
      viewer,
      setId,
      async (tx, classId) => {
        if (!removed) {
          const [set] = await inSchool(tx, viewer.schoolId).find(KeptGroupSet, { id: setId }, { select: ['name'] })
          const others = (await groupSetsOf(tx, viewer.schoolId, classId)).filter(({ id }) => id !== setId)
          valueOf(
            checkGroupName(
              set!.name,
              others.map(({ name }) => name),
            ),
          )
        }
        await inSchool(tx, viewer.schoolId).update(
          KeptGroupSet,
          { id: setId },
          { removedAt: removed ? () => 'now()' : null },
        )
      },
      true,
    )
  }

  /** Does something to a set that this person may change, alone with it. */
  private async inSet<T>(
    viewer: Viewer,
    setId: string,
    work: (tx: EntityManager, classId: string, version: number) => Promise<T>,
    evenRemoved = false,
  ): Promise<T> {
    const { done, classId } = await this.source.transaction(async (tx) => {
      const set = await lockSet(tx, viewer.schoolId, setId, evenRemoved)
      await holdInClass(tx, viewer, set.classId, 'change groups')
      return { done: await work(tx, set.classId, set.version), classId: set.classId }
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'groups' })
    return done
  }
}

/** Holds a set still: one change at a time, whoever makes it. */
export async function lockSet(
  tx: EntityManager,
  schoolId: string,
  setId: string,
  evenRemoved = false,
): Promise<{ classId: string; version: number }> {
  const [set] = await lockGroupSet(tx, schoolId, setId, evenRemoved)
  if (!set) throw notThere()
  return set
}

export async function renewed(tx: EntityManager, schoolId: string, setId: string): Promise<number> {
  const rows = await renewGroupSet(tx, schoolId, setId)
  return rows[0]!.version
}

export async function holdGroup(
  tx: EntityManager,
  schoolId: string,
  setId: string,
  groupId: string,
): Promise<{ name: string; places: number | null }> {
  const [group] = await inSchool(tx, schoolId).find(ClassGroup, { setId, id: groupId }, { select: ['name', 'places'] })
  if (!group)
    throw conflict('group-gone', 'This group is no longer there: it was taken away or joined to another meanwhile.')
  return group
}
