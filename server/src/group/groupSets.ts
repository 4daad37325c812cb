import type { Arrangement } from '@gavrin/core'
import { type DataSource, type EntityManager, Not, Any } from 'typeorm'
import { conflict } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { ClassGroup, GroupMember, GroupPair } from './group.entity.js'
import { type GroupSet, groupSetRows, putGroups, putMembers, putPairs } from './group.queries.js'

/** The group sets of a class, or one of them. */
export async function groupSetsOf(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
  setId: string | null = null,
): Promise<GroupSet[]> {
  const rows = await groupSetRows(database, schoolId, classId, setId)
  return rows.map(({ sign_up_open, opens, closes, ...set }) => ({
    ...set,
    signUp: { open: sign_up_open, opensAt: opens?.getTime() ?? null, closesAt: closes?.getTime() ?? null },
  }))
}

/** Writes how a set is divided in place of how it was; only students of the class are put in. */
export async function writeArrangement(
  tx: EntityManager,
  schoolId: string,
  classId: string,
  setId: string,
  { groups, locked, pairs }: Arrangement,
): Promise<void> {
  const ids = groups.map(({ id }) => id)
  const foreign = await inSchool(tx, schoolId).exists(ClassGroup, { setId: Not(setId), id: Any(ids) })
  if (foreign) throw conflict('group-of-other-set', 'One of these groups belongs to another set.')
  await inSchool(tx, schoolId).delete(ClassGroup, { setId, id: Not(Any(ids)) })
  await putGroups(tx, schoolId, {
    setId,
    ids,
    names: groups.map(({ name }) => name),
    places: groups.map(({ places }) => places),
  })
  const placed = groups.flatMap(({ id, personIds }) => personIds.map((personId) => ({ id, personId })))
  await inSchool(tx, schoolId).delete(GroupMember, { setId })
  await putMembers(tx, schoolId, {
    setId,
    personIds: placed.map(({ personId }) => personId),
    groupIds: placed.map(({ id }) => id),
    locked,
    classId,
  })
  await inSchool(tx, schoolId).delete(GroupPair, { setId })
  await putPairs(tx, schoolId, {
    setId,
    as: pairs.map(({ a }) => a),
    bs: pairs.map(({ b }) => b),
    kinds: pairs.map(({ kind }) => kind),
  })
}
