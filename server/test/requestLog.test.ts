import { expect, jest, test } from '@jest/globals'
import express from 'express'
import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import request from 'supertest'
import { ProblemException, sendProblem } from '../dist/common/problemDetails.js'
import { OfRequest, RequestLogger, giveRequestId } from '../dist/common/requestLog.js'

const SERVER = fileURLToPath(new URL('../dist', import.meta.url))

/** What is written to standard output and error meanwhile, line by line. */
async function written(work: () => Promise<unknown>): Promise<string[]> {
  const text: string[] = []
  const spies = [process.stdout, process.stderr].map((stream) =>
    jest.spyOn(stream, 'write').mockImplementation((chunk) => {
      text.push(String(chunk))
      return true
    }),
  )
  try {
    await work()
  } finally {
    for (const spy of spies) spy.mockRestore()
  }
  return text.join('').split('\n').filter(Boolean)
}

test('what breaks while a request is answered is logged under its id, and the answer names it', async () => {
  const log = new RequestLogger('json')
  const app = express()
    .use(giveRequestId)
    .get('/breaks', (_request, response) => {
      log.error(new OfRequest(response, 'a wheel came off'), undefined, 'http')
      sendProblem(response, new ProblemException(500, 'broken', 'Something broke.'))
    })
    .get('/missing', (_request, response) => sendProblem(response, new ProblemException(404, 'not-there', 'No.')))
  let broken!: request.Response
  const lines = await written(async () => (broken = await request(app).get('/breaks').expect(500)))
  const id = broken.headers['x-request-id']!
  expect(lines.map((line) => JSON.parse(line) as unknown)).toMatchObject([
    { level: 'error', message: 'a wheel came off', context: 'http', requestId: id },
  ])
  expect((broken.body as { instance: string }).instance).toBe(`urn:uuid:${id}`)
  const other = await request(app).get('/missing').expect(404)
  expect(other.headers['x-request-id']).not.toBe(id)
  expect(other.body).not.toHaveProperty('instance')
})

test('people read the words alone', async () => {
  const log = new RequestLogger('text')
  const app = express()
    .use(giveRequestId)
    .get('/', (_request, response) => {
      log.warn(new OfRequest(response, 'low water'), 'http')
      response.end()
    })
  const lines = await written(() => request(app).get('/').expect(200))
  expect(lines).toEqual([expect.stringMatching(/WARN \[http\] low water$/)])
})

// While one is used, every promise calls back: a tenth more time for each key that is written in a copy.
test('nothing of the server keeps what it is doing in an AsyncLocalStorage', () => {
  const loaded = readdirSync(SERVER, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.js'))
  expect(loaded.length).toBeGreaterThan(50)
  expect(loaded.filter((name) => readFileSync(join(SERVER, name), 'utf8').includes('node:async_hooks'))).toEqual([])
})

test('outside of a request there is no id, and less than a warning is not logged', async () => {
  const log = new RequestLogger('json')
  const lines = await written(() => {
    log.warn('low water')
    log.log('nothing new')
    return Promise.resolve()
  })
  expect(lines).toHaveLength(1)
  expect(JSON.parse(lines[0]!)).toMatchObject({ level: 'warn', message: 'low water' })
  expect(JSON.parse(lines[0]!)).not.toHaveProperty('requestId')
})
