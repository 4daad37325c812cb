import { expect, jest, test } from '@jest/globals'
import express from 'express'
import request from 'supertest'
import { ProblemException, sendProblem } from '../dist/common/problemDetails.js'
import { RequestLogger, giveRequestId, keepRequestId } from '../dist/common/requestLog.js'

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
      setImmediate(() => {
        log.error('a wheel came off', undefined, 'http')
        sendProblem(response, new ProblemException(500, 'broken', 'Something broke.'))
      })
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

test('the id is taken up again after something that calls back from elsewhere', async () => {
  const log = new RequestLogger('json')
  let callBack: (() => void) | undefined
  const app = express()
    .use(giveRequestId)
    .use((_request, _response, next) => {
      callBack = next
    })
    .use(keepRequestId)
    .get('/', (_request, response) => {
      log.warn('from elsewhere')
      response.end()
    })
  // This runs outside of any request.
  const timer = setInterval(() => {
    if (!callBack) return
    clearInterval(timer)
    callBack()
  }, 5)
  let answer!: request.Response
  const lines = await written(async () => (answer = await request(app).get('/').expect(200)))
  expect(JSON.parse(lines[0]!)).toMatchObject({ requestId: answer.headers['x-request-id'] })
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
