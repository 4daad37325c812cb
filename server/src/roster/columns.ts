import { COLUMN_LIMIT, type RosterColumn } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { malformed } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { KeptColumn } from './roster.entity.js'
import { addColumnTo } from './roster.queries.js'

/** The extra columns of a class in their order. */
export function columnsOf(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
): Promise<RosterColumn[]> {
  return inSchool(database, schoolId).find(
    KeptColumn,
    { classId, removedAt: null },
    { select: ['id', 'name', 'kind'], order: { position: 'ASC', id: 'ASC' } },
  )
}

/** Adds a column at the end; its id. */
export async function addColumn(
  tx: EntityManager,
  schoolId: string,
  classId: string,
  name: string,
  kind: RosterColumn['kind'],
): Promise<string> {
  const [column] = await addColumnTo(tx, schoolId, { classId, name, kind })
  return column!.id
}

export const tooManyColumns = (field: string) =>
  malformed([{ code: 'too-many-columns', field, sentence: `A class has up to ${COLUMN_LIMIT} extra columns.` }])
