import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals'
import express from 'express'
import { createHash } from 'node:crypto'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import request from 'supertest'
import type { Drawing, Drawings } from '../dist/web/drawing.js'
import { firstPages } from '../dist/web/firstPage.js'

// The page of a place: what is in it, and what somebody who opens it can put into it.

const PAGE = '<html lang="en"><head></head><body><div id="root"><p>One moment</p></div></body></html>'

let root: string
let server: Server
/** What is drawn, and what for. */
let html: string | null = null
let asked: Drawing | null = null
let session: unknown = { person: null }

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'gavrin-page-'))
  await writeFile(join(root, 'index.html'), PAGE)
  const drawings = {
    draw: (drawing: Drawing) => {
      asked = drawing
      return Promise.resolve(html)
    },
  } as unknown as Drawings
  const app = express()
  app.get('/api/session', (_request, response) => void response.json(session))
  app.use((_request, response, next) => {
    response.setHeader('Content-Security-Policy', "style-src 'self'")
    next()
  })
  app.use(firstPages(root, () => server, drawings))
  server = app.listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
})
afterAll(async () => {
  await new Promise((resolve) => server.close(resolve))
  await rm(root, { recursive: true })
})
beforeEach(() => {
  html = null
  asked = null
  session = { person: null }
})

const open = (path = '/', cookie = '') => {
  const { port } = server.address() as AddressInfo
  return request(`http://127.0.0.1:${port}`).get(path).set('cookie', cookie).expect(200)
}
const policy = ({ headers }: { headers: Record<string, unknown> }) => String(headers['content-security-policy'])

describe('the page of a place', () => {
  test('comes with its picture, where there is one in time; else as it is', async () => {
    expect((await open()).text).toContain('<div id="root"><p>One moment</p></div>')
    html = '<main>$& drawn</main>'
    const { text } = await open()
    expect(text).toMatch(/<div id="root" data-drawn="\d+"><main>\$& drawn<\/main><\/div>/)
    expect(text).not.toContain('One moment')
    expect(asked).toMatchObject({ path: '/', first: JSON.stringify([{ key: ['session'], data: session }]) })
  })

  test('is not drawn where it is not one of those that are', async () => {
    html = '<main>drawn</main>'
    expect((await open('/forgotten')).text).not.toContain('drawn')
    expect(asked).toBeNull()
  })

  test('its data cannot end the element it stands in', async () => {
    session = { person: null, demo: { password: '</script><script>alert(1)</script>', people: [] } }
    const { text } = await open()
    expect(text).not.toContain('alert(1)</script>')
    const [, json] = /id="first">(.*?)<\/script>/s.exec(text)!
    expect(JSON.parse(json!)).toEqual([{ key: ['session'], data: session }])
  })

  test('allows the styles that are drawn, by their digests, and no others', async () => {
    html = '<p style="left:1%"></p><p style="content:&quot;a&amp;b&quot;"></p><p style="left:1%"></p>'
    const digest = (style: string) => `'sha256-${createHash('sha256').update(style).digest('base64')}'`
    expect(policy(await open())).toBe(
      `style-src 'self';style-src-attr 'unsafe-hashes' ${digest('left:1%')} ${digest('content:"a&b"')}`,
    )
    html = '<p>plain</p>'
    expect(policy(await open())).toBe("style-src 'self'")
  })

  test('with more styles than a header should hold it comes undrawn', async () => {
    const styled = (count: number) => Array.from({ length: count }, (_, at) => `<p style="left:${at}%"></p>`).join('')
    html = styled(60)
    expect((await open()).text).toContain('data-drawn')
    html = styled(61)
    const answer = await open()
    expect(answer.text).not.toContain('data-drawn')
    expect(policy(answer)).toBe("style-src 'self'")
  })

  test.each([
    ['Pacific%2FAuckland', 'Pacific/Auckland'],
    ['Europe/Lisbon', 'Europe/Lisbon'],
    ['Nowhere%2FAtAll', null],
    ['%3A%2Fetc%2Fpasswd', null],
    ['%', null],
    ['', null],
    [`Europe%2F${'x'.repeat(80)}`, null],
  ])('is drawn in the zone that the browser says, if there is such a one: %s', async (said, zone) => {
    await open('/', `gavrin.zone=${said}`)
    expect(asked!.zone).toBe(zone)
  })

  test('of the cookies only the class is passed on, and no long one', async () => {
    await open('/', 'gavrin.session=secret; gavrin.class=k%3B1; other=x')
    expect(asked!.cookies).toBe('gavrin.class=k%3B1')
    await open('/', `gavrin.class=${'k'.repeat(100)}`)
    expect(asked!.cookies).toBe('')
  })
})
