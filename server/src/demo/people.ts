import type { DataSource } from 'typeorm'
import { DEMO_PASSWORD, DEMO_SCHOOL_ID } from './school.js'
import type { DemoPeople } from '../common/tokens.js'
import { peopleOfDemo } from './demo.queries.js'

/** The people of the demo school who can sign in. Only ever asked for in demo mode. */
export async function demoPeople(source: DataSource): Promise<DemoPeople> {
  const people = await peopleOfDemo(source, DEMO_SCHOOL_ID)
  return { password: DEMO_PASSWORD, people }
}
