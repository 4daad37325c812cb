import { startApplication } from './server.mjs'

/** Starts the application before the browser tests and stops it after them. */
export default async function globalSetup() {
  const application = await startApplication('e2e')
  process.env.GAVRIN_URL = application.url
  return application.stop
}
