import { makeSchool } from './server.mjs'

/** Makes the school that all workers begin with, unless the run of all tests has made it beside others. */
export default async function globalSetup() {
  if (process.env.GAVRIN_SCHOOL !== 'made') await makeSchool()
}
