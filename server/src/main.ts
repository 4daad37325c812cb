import { createApp } from './app.js'
import { migrate } from './database/dataSource.js'
import { loadDemoSchool } from './demo/load.js'
import { OnlyProcess, SECOND_PROCESS } from './onlyProcess.js'
import { settingsFromEnvironment } from './common/settings.js'

const giveUp = (sentence: string): never => {
  console.error(sentence)
  process.exit(1)
}

const settings = settingsFromEnvironment()
await OnlyProcess.hold(settings.databaseUrl, () => giveUp(SECOND_PROCESS)).catch((error: unknown) =>
  giveUp(error instanceof Error ? error.message : String(error)),
)
await migrate(settings.databaseUrl)
const app = await createApp(settings)
if (settings.demo && (await loadDemoSchool(app))) console.log('The demo school is loaded.')
await app.listen(settings.port, settings.host)
console.log(`Gavrin listens on ${await app.getUrl()}`)
