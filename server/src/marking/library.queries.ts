import { type Database, inSchool } from '../database/inSchool.js'

/** A rubric that somebody may use. */
export interface RubricListed {
  readonly id: string
  readonly name: string
  /** How many rows it has. */
  readonly count: number
  readonly shared: boolean
  /** Whose it is; null: one's own. */
  readonly by: { readonly first: string; readonly last: string } | null
}

/** The rubrics that somebody may use: their own, then what colleagues share, by name. Raw: two tables. */
export function rubricsFor(database: Database, schoolId: string, personId: string): Promise<RubricListed[]> {
  return inSchool(database, schoolId).rows<RubricListed>(
    `SELECT r.id, r.name, jsonb_array_length(r.rows) AS count, r.shared, CASE WHEN r.person_id <> $2 THEN json_build_object('first', p.first_name, 'last', p.last_name) END AS by
       FROM kept_rubric r JOIN person p ON p.school_id = r.school_id AND p.id = r.person_id
      WHERE r.school_id = $1 AND (r.person_id = $2 OR r.shared) ORDER BY r.person_id <> $2, lower(r.name), r.id LIMIT 1000`,
    personId,
  )
}
