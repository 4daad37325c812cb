import { createServer } from 'node:http'
import { createApp } from '../../dist/app.js'
import { ContractHeld } from './contractHeld.js'
import { settingsFor } from './settings.js'

/**
 * A process that has loaded the server once and opens applications of it, each on a database that it is told: the test
 * files of a worker share it, for loading the server takes longer than most of them. POST opens one, DELETE closes it.
 */
const opened = new Map()
let last = 0

async function open({ databaseUrl, demo, smtpUrl }) {
  const settings = settingsFor(databaseUrl, demo)
  const app = await createApp({ ...settings, mail: { ...settings.mail, smtpUrl } })
  app.useGlobalInterceptors(new ContractHeld())
  await app.listen(0, '127.0.0.1')
  const key = String(++last)
  opened.set(key, app)
  return { key, url: (await app.getUrl()).replace('[::1]', '127.0.0.1') }
}

async function close(key) {
  const app = opened.get(key)
  opened.delete(key)
  await app?.close()
  return {}
}

async function bodyOf(request) {
  let text = ''
  for await (const part of request) text += part
  return JSON.parse(text)
}

const server = createServer((request, response) => {
  const answer = request.method === 'DELETE' ? close(request.url.slice(1)) : bodyOf(request).then(open)
  answer.then(
    (found) => response.end(JSON.stringify(found)),
    (error) => {
      console.error(error)
      response.statusCode = 500
      response.end(JSON.stringify({ message: String(error) }))
    },
  )
})
// What an application leaves open does not keep the process: it ends with whoever started it.
process.on('disconnect', () => process.exit())
server.listen(0, '127.0.0.1', () => process.send({ url: `http://127.0.0.1:${server.address().port}` }))
