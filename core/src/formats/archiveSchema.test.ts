import { expect, test } from '@jest/globals'
import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import { strFromU8, unzipSync } from 'fflate'
import { readFileSync } from 'node:fs'
import { anyContent, content } from '../worksheet/testing/samples.js'
import { mediaOf } from '../worksheet/walk.js'
import { writeArchive } from './archive.js'
import { archiveSchema } from './archiveSchema.js'

const schema = JSON.parse(readFileSync('docs/archive.schema.json', 'utf8')) as object
const accepts = new Ajv2020({ strict: true, strictRequired: false }).compile(schema)
const mainOf = (archive: Uint8Array) =>
  JSON.parse(strFromU8(unzipSync(archive)['worksheet.json']!)) as Record<string, unknown>

test('docs/archive.schema.json is what the core says: node scripts/archiveSchema.mjs writes it', () => {
  expect(schema).toEqual(archiveSchema)
})

test('whatever is written is as the published schema says', () => {
  fc.assert(
    fc.property(anyContent, (some) => {
      const media = mediaOf(some).map((id) => ({
        id,
        type: 'image/png' as const,
        width: 4,
        height: 3,
        bytes: new Uint8Array(1),
      }))
      expect([accepts(mainOf(writeArchive({ title: 'T', content: some, media }))), accepts.errors]).toEqual([
        true,
        null,
      ])
    }),
  )
})

test('the schema refuses what the model does not know', () => {
  const main = mainOf(
    writeArchive({ title: 'T', content: content({ id: 'l', kind: 'line', width: 'full' }), media: [] }),
  )
  expect(accepts(main)).toBe(true)
  expect(accepts({ ...main, version: 2 })).toBe(false)
  expect(accepts({ ...main, content: { ...content(), blocks: [{ id: 'x', kind: 'script' }] } })).toBe(false)
})
