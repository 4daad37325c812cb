import { describe, expect, test } from '@jest/globals'
import { GroupCommit } from '../dist/live/groupCommit.js'
import { Bucket } from '../dist/common/bucket.js'
import type { LoggedUpdate } from '../dist/kept/spaces.queries.js'

const update = (copyId: string, seq: number): LoggedUpdate => ({
  schoolId: 's',
  copyId,
  space: 'line',
  seq,
  personId: 'p',
  at: 0,
  bytes: new Uint8Array([seq]),
  late: null,
})
const away = Object.assign(new Error('away'), { code: '57P01' })
const taken = Object.assign(new Error('taken'), { code: '23505' })

describe('group commits', () => {
  test('what comes while one is written goes together into the next, in order, and is told after its commit', async () => {
    const batches: number[][] = []
    const told: number[] = []
    const commits = new GroupCommit(
      {
        append: (rows) => Promise.resolve(void batches.push(rows.map(({ seq }) => seq))),
        fenced: () => Promise.resolve(new Set()),
      },
      () => undefined,
    )
    for (let seq = 1; seq <= 1_200; seq++)
      commits.push('a', [update('a', seq)], () => {
        expect(batches.flat()).toContain(seq)
        told.push(seq)
      })
    await commits.settled()
    expect(batches.map(({ length }) => length)).toEqual([500, 500, 200])
    expect(batches.flat()).toEqual(Array.from({ length: 1_200 }, (_, at) => at + 1))
    expect(told).toEqual(batches.flat())
  })

  test('while the database is away nothing is told and nothing dropped; then all is, once', async () => {
    let failures = 2
    const rows: number[] = []
    const commits = new GroupCommit(
      {
        append: (batch) =>
          failures-- > 0 ? Promise.reject(away) : Promise.resolve(void rows.push(...batch.map(({ seq }) => seq))),
        fenced: () => Promise.resolve(new Set()),
      },
      () => undefined,
    )
    let told = 0
    for (let seq = 1; seq <= 3; seq++) commits.push('a', [update('a', seq)], () => told++)
    await commits.settled()
    expect([rows, told]).toEqual([[1, 2, 3], 3])
  })

  test('a copy that another process writes to is given up, the others are committed', async () => {
    const rows: LoggedUpdate[] = []
    const dropped: string[] = []
    const commits = new GroupCommit(
      {
        append: (batch) =>
          batch.some(({ copyId }) => copyId === 'b')
            ? Promise.reject(taken)
            : Promise.resolve(void rows.push(...batch)),
        fenced: () => Promise.resolve(new Set(['b'])),
      },
      (copyId) => dropped.push(copyId),
    )
    const told: string[] = []
    for (const copyId of ['a', 'b', 'a', 'b', 'c'])
      commits.push(copyId, [update(copyId, rows.length + 1)], () => told.push(copyId))
    await commits.settled()
    expect(rows.map(({ copyId }) => copyId)).toEqual(['a', 'a', 'c'])
    expect([dropped, told]).toEqual([['b'], ['a', 'a', 'c']])
  })
})

describe('a row that the database never takes', () => {
  const refuse = (bad: (row: LoggedUpdate) => boolean, rows: LoggedUpdate[]) => ({
    append: (batch: readonly LoggedUpdate[]) =>
      batch.some(bad)
        ? Promise.reject(Object.assign(new Error('no such row'), { code: '22P02' }))
        : Promise.resolve(void rows.push(...batch)),
    fenced: () => Promise.resolve(new Set<string>()),
  })

  test('is found among the others, given up with what rests on it, and holds nobody up', async () => {
    const rows: LoggedUpdate[] = []
    const commits = new GroupCommit(
      refuse(({ copyId, seq }) => copyId === 'bad' && seq === 2, rows),
      () => undefined,
    )
    const told: string[] = []
    const failed: string[] = []
    for (let seq = 1; seq <= 40; seq++)
      for (const copyId of ['a', 'bad', 'b'])
        commits.push(
          copyId,
          [update(copyId, seq)],
          () => told.push(`${copyId} ${seq}`),
          () => failed.push(`${copyId} ${seq}`),
        )
    await commits.settled()
    expect(failed).toEqual(['bad 2'])
    for (const copyId of ['a', 'b'])
      expect(rows.filter((row) => row.copyId === copyId).map(({ seq }) => seq)).toEqual(
        Array.from({ length: 40 }, (_, at) => at + 1),
      )
    expect(rows.filter(({ copyId }) => copyId === 'bad').map(({ seq }) => seq)).toEqual([1])
    expect(told).toHaveLength(81)
  })

  test('is not what a full disk is: that passes, and nothing is given up', async () => {
    let failures = 4
    const rows: LoggedUpdate[] = []
    const commits = new GroupCommit(
      {
        append: (batch) =>
          failures-- > 0
            ? Promise.reject(Object.assign(new Error('disk full'), { code: '53100' }))
            : Promise.resolve(void rows.push(...batch)),
        fenced: () => Promise.resolve(new Set()),
      },
      () => undefined,
    )
    const failed: string[] = []
    commits.push(
      'a',
      [update('a', 1)],
      () => undefined,
      () => failed.push('a'),
    )
    await commits.settled()
    expect([rows.length, failed]).toEqual([1, []])
  })
})

test('a bucket lets a burst through, then its rate', () => {
  let now = 0
  const bucket = new Bucket(10, 20, () => now)
  expect(Array.from({ length: 20 }, () => bucket.take(1))).toEqual(new Array(20).fill(0))
  expect(bucket.take(1)).toBeCloseTo(100)
  now = 1_100
  expect(bucket.take(10)).toBe(0)
  now = 60_000
  expect(bucket.take(20)).toBe(0)
  expect(bucket.take(5)).toBeCloseTo(500)
})
