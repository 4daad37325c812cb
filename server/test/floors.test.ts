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
  ['roster', 'worksheet', 'list'],
  ['kept'],
  ['group', 'join', 'bringIn'],
  ['rosterOut'],
  ['slip'],
  ['handOut'],
  ['handout'],
  [
    'copy',
    'comment',
    'history',
    'calendar',
    'pens',
    'reminder',
    'savedCopies',
    'likeness',
    'toKeep',
    'marking',
    'automation',
  ],
  ['live', 'board', 'people', 'find'],
  ['web', 'health', 'demo'],
  ['.'],
]

const ROOT = fileURLToPath(new URL('../..', import.meta.url))
const SOURCE = join(ROOT, 'server/src')
const roomOf = (file: string) => {
  const inside = relative(SOURCE, file)
  return inside.includes('/') ? inside.split('/')[0]! : '.'
}

/** The files of a folder, each with those of it that it imports, for their types too. */
function filesOf(folder: string): Map<string, string[]> {
  const found = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter(({ name }) => /\.tsx?$/.test(name) && !/\.test\./.test(name))
    .map(({ parentPath, name }) => join(parentPath, name))
  const known = new Map(found.map((file) => [file.replace(/\.tsx?$/, ''), file]))
  const imported = (file: string) =>
    [...readFileSync(file, 'utf8').matchAll(/(?:from|import\() ?'(\.[^']+)'/g)].flatMap(
      ([, path]) => known.get(join(dirname(file), path!).replace(/\.js$/, '')) ?? [],
    )
  return new Map(found.map((file) => [file, imported(file)]))
}

/** Which room imports from which, with a file that does. */
const arrows = new Map<string, Map<string, string>>()
for (const [file, imported] of filesOf(SOURCE))
  for (const other of imported) {
    const [from, to] = [roomOf(file), roomOf(other)]
    if (to !== from) arrows.set(from, (arrows.get(from) ?? new Map<string, string>()).set(to, relative(SOURCE, file)))
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

/** The rings in which things lead to each other. */
function ringsOf(next: (one: string) => Iterable<string>, all: Iterable<string>): string[] {
  const rings: string[] = []
  const done = new Set<string>()
  const visit = (one: string, way: readonly string[]): void => {
    const at = way.indexOf(one)
    if (at >= 0) return void rings.push([...way.slice(at), one].join(' -> '))
    if (done.has(one)) return
    for (const other of next(one)) visit(other, [...way, one])
    done.add(one)
  }
  for (const one of all) visit(one, [])
  return rings
}

test('no rooms beside each other know each other in a ring', () => {
  const beside = (room: string) => [...(arrows.get(room)?.keys() ?? [])].filter((to) => floorOf(to) === floorOf(room))
  expect(ringsOf(beside, arrows.keys())).toEqual([])
})

test.each(['core/src', 'server/src', 'web/src'])('no files of %s know each other in a ring', (folder) => {
  const files = filesOf(join(ROOT, folder))
  const rings = ringsOf((file) => files.get(file) ?? [], files.keys())
  expect(rings.map((ring) => ring.replaceAll(`${ROOT}`, ''))).toEqual([])
})

test('controllers ask no database: they hold HTTP, services what is done', () => {
  const asking = readdirSync(SOURCE, { recursive: true })
    .map(String)
    .filter((file) => file.endsWith('.controller.ts') && readFileSync(join(SOURCE, file), 'utf8').includes('.query('))
  expect(asking).toEqual([])
})

test('the building blocks of the browser know nothing of what is built with them', () => {
  const web = join(ROOT, 'web/src')
  const knowing = [...filesOf(web)].flatMap(([file, imported]) =>
    relative(web, file).startsWith('ui/')
      ? imported.flatMap((other) =>
          relative(web, other).startsWith('ui/') || relative(web, other) === 'contract.ts'
            ? []
            : [`${relative(web, file)} -> ${relative(web, other)}`],
        )
      : [],
  )
  expect(knowing).toEqual([])
})
