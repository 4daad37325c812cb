import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { writeHtml } from '../../formats/html.js'
import { writeOdt } from '../../formats/odtOut.js'
import { newAnswerDoc, readAnswer } from '../../live/space.js'
import { answerText, spaceProgress } from '../../progress/answers.js'
import { checkAnswer, hasKey } from '../autoCheck.js'
import { checkContent } from '../check.js'
import { type AnswerSpace, ANSWER_KINDS, type Block, isAnswerSpace } from '../content.js'
import { keyWords } from '../key.js'
import { forStudents } from '../student.js'
import { anyContent, content, counting, table, text } from '../testing/samples.js'
import { answerSpaces } from '../walk.js'
import { KINDS, drawnSpace, kindOf, kindWords, newSpace } from './index.js'

/** A space where one of its kind may stand. */
const placed = (space: AnswerSpace): Block =>
  isAnswerSpace(space)
    ? space
    : space.kind === 'gap'
      ? text('p', 'It is ', { type: 'gap', attrs: { space } })
      : table('t', ['mass', { space }])

const page = (sheet: ReturnType<typeof content>, key: boolean) =>
  writeHtml({ title: 'T', content: sheet, key, ink: 'blue', mediaUrl: (id) => id, formula: (tex) => tex })

test.each(ANSWER_KINDS)('a new space of the kind %s can stand on a page as it is, and nothing is in it', (kind) => {
  const space = newSpace(kind, counting())
  const sheet = content(placed(space))
  expect(checkContent(JSON.parse(JSON.stringify(sheet)))).toEqual({ ok: true, value: sheet })
  const value = readAnswer(space, newAnswerDoc(kind))
  expect(answerText(space, value)).toBe('')
  expect(spaceProgress(space, value)).toEqual({ share: 0, words: 0 })
  expect(checkAnswer(space, value)).toEqual({ is: 'unchecked' })
  expect(kindWords(space)).not.toBe('')
  expect(page(sheet, false)).toContain('<main>')
  expect(writeOdt('T', sheet, [], { key: true }).length).toBeGreaterThan(0)
})

test('each kind has a name of its own', () => {
  const names = ANSWER_KINDS.map((kind) => KINDS[kind].name)
  expect(new Set(names).size).toBe(names.length)
})

test('whatever the kind, what a student is sent tells nothing of the key, and shows the same place', () => {
  fc.assert(
    fc.property(anyContent, (sheet) => {
      const sent = answerSpaces(forStudents(sheet))
      for (const [at, space] of answerSpaces(sheet).entries()) {
        const bare = sent[at]!
        expect(hasKey(bare)).toBe(false)
        expect(keyWords(bare)).toBe('')
        for (const part of kindOf(space).key?.parts ?? []) expect(bare).not.toHaveProperty(part)
        const drawn = drawnSpace(space)
        expect(drawnSpace(bare)).toEqual(drawn.is === 'options' ? { ...drawn, right: [] } : drawn)
      }
    }),
  )
})

test('the samples that other tests draw from hold every kind', () => {
  const seen = new Set(
    fc.sample(anyContent, { numRuns: 200, seed: 7 }).flatMap((sheet) => answerSpaces(sheet).map(({ kind }) => kind)),
  )
  expect([...seen].sort()).toEqual([...ANSWER_KINDS].sort())
})
