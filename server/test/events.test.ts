import { expect, test } from '@jest/globals'
import { Events } from '../dist/events/events.js'

const CLASS = { schoolId: 's', classId: 'k', part: 'roster' } as const

test('whoever listens to a kind of happening is told of it, and of no other; telling waits for all of them', async () => {
  const events = new Events()
  const heard: string[] = []
  let release!: () => void
  const slow = new Promise<void>((resolve) => (release = resolve))
  events.on('class changed', ({ part }) => heard.push(`first ${part}`))
  events.on('class changed', async ({ part }) => {
    await slow
    heard.push(`second ${part}`)
  })
  events.on('session ended', () => heard.push('session'))
  let isOver = false
  const told = events.tell('class changed', CLASS).then(() => (isOver = true))
  await new Promise((resolve) => setImmediate(resolve))
  expect(heard).toEqual(['first roster'])
  expect(isOver).toBe(false)
  release()
  await told
  expect(heard).toEqual(['first roster', 'second roster'])
})

test('one that fails keeps nobody else from hearing, and is said after', async () => {
  const events = new Events()
  const heard: string[] = []
  events.on('class changed', () => {
    throw new Error('away')
  })
  events.on('class changed', () => heard.push('heard'))
  await expect(events.tell('class changed', CLASS)).rejects.toThrow('away')
  expect(heard).toEqual(['heard'])
})

test('what nobody listens to is told in vain', async () => {
  await expect(new Events().tell('class changed', CLASS)).resolves.toBeUndefined()
})
