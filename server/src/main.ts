import { createApp } from './app.js'
import { migrate } from './database/dataSource.js'
import { loadDemoSchool } from './demo/load.js'
import { settingsFromEnvironment } from './settings.js'

const settings = settingsFromEnvironment()
await migrate(settings.databaseUrl)
const app = await createApp(settings)
if (settings.demo && (await loadDemoSchool(app))) console.log('The demo school is loaded.')
await app.listen(settings.port, settings.host)
console.log(`Gavrin listens on ${await app.getUrl()}`)
