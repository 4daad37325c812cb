import type { SchoolRole } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { DEMO_PASSWORD, DEMO_SCHOOL_ID } from './school.js'

/** Somebody the demo can be tried as. */
export interface DemoPerson {
  readonly email: string
  readonly first: string
  readonly last: string
  readonly role: SchoolRole
  /** The classes they are in. */
  readonly classes: string
}

export interface DemoPeople {
  readonly password: string
  readonly people: DemoPerson[]
}

/** The people of the demo school who can sign in. Only ever asked for in demo mode. */
export async function demoPeople(source: DataSource): Promise<DemoPeople> {
  const people = await source.query<DemoPerson[]>(
    `SELECT p.email, p.first_name AS first, p.last_name AS last, p.role,
            coalesce(string_agg(k.name, ', ' ORDER BY k.name), '') AS classes
       FROM person p
       LEFT JOIN class_member m ON m.school_id = p.school_id AND m.person_id = p.id AND m.left_at IS NULL
       LEFT JOIN class k ON k.school_id = m.school_id AND k.id = m.class_id
      WHERE p.school_id = $1 AND p.email IS NOT NULL AND p.password_hash IS NOT NULL
      GROUP BY p.school_id, p.id
      ORDER BY p.role = 'student', p.last_name, p.first_name`,
    [DEMO_SCHOOL_ID],
  )
  return { password: DEMO_PASSWORD, people }
}
