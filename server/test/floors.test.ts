import { expect, test } from '@jest/globals'
import { readFileSync, readdirSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'

/**
 * The rooms of the server, from the ground up. A room knows those below it and some beside it, never one above: what
 * happened is told to `events`, and whoever stands above listens.
 */
const FLOORS = [
  ['common', 'events'],
  ['database'],
  ['access'],
  ['account', 'media', 'mail', 'tasks'],
  ['roster', 'worksheet', 'file'],
  ['kept'],
  ['group', 'join', 'people', 'bringIn'],
  ['rosterOut'],
  ['handout'],
  ['copy'],
  ['live', 'board', 'find'],
  ['web', 'health', 'demo'],
  ['.'],
]

const SOURCE = fileURLToPath(new URL('../src', import.meta.url))
const roomOf = (file: string) => {
  const inside = relative(SOURCE, file)
  return inside.includes('/') ? inside.split('/')[0]! : '.'
}

/** Which room imports from which, with a file that does. */
const arrows = new Map<string, Map<string, string>>()
for (const entry of readdirSync(SOURCE, { recursive: true, withFileTypes: true })) {
  if (!entry.name.endsWith('.ts')) continue
  const file = join(entry.parentPath, entry.name)
  const from = roomOf(file)
  for (const [, path] of readFileSync(file, 'utf8').matchAll(/(?:from|import\() ?'(\.[^']+)'/g)) {
    const to = roomOf(join(dirname(file), path!))
    if (to !== from) arrows.set(from, (arrows.get(from) ?? new Map<string, string>()).set(to, relative(SOURCE, file)))
  }
}
const floorOf = (room: string) => FLOORS.findIndex((rooms) => rooms.includes(room))

test('every room stands on a floor', () => {
  expect([...arrows.keys()].filter((room) => floorOf(room) < 0)).toEqual([])
})

test('no room knows one above it', () => {
  const up = [...arrows].flatMap(([from, found]) =>
    [...found].flatMap(([to, file]) => (floorOf(to) > floorOf(from) ? [`${from} -> ${to}: ${file}`] : [])),
  )
  expect(up).toEqual([])
})

test('no rooms beside each other know each other in a ring', () => {
  const rings: string[] = []
  const visit = (room: string, way: readonly string[]) => {
    const at = way.indexOf(room)
    if (at >= 0) return rings.push([...way.slice(at), room].join(' -> '))
    for (const next of arrows.get(room)?.keys() ?? []) if (floorOf(next) === floorOf(room)) visit(next, [...way, room])
    return undefined
  }
  for (const room of arrows.keys()) visit(room, [])
  expect(rings).toEqual([])
})
