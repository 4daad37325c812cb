import { describe, expect, test } from '@jest/globals'
import { acceptingToo, checkAccepted, isCheckedByWords, withAccepted } from './accepted.js'
import { checkAnswer } from './autoCheck.js'
import type { AnswerSpace, Block } from './content.js'
import { answerSpaces } from './walk.js'

const line = (id: string, accepted?: readonly string[]) =>
  ({ id, kind: 'line', width: 'full', ...(accepted && { accepted }) }) as AnswerSpace & Block

describe('answers accepted beside the key', () => {
  test('are right from then on; the key stays, and the worksheet as it was', () => {
    const content = { blocks: [line('a', ['ebb']), line('b')] }
    const more = withAccepted(content, { a: ['low water', 'ebb'], b: ['x'], gone: ['y'] })
    const [a, b] = answerSpaces(more)
    expect(checkAnswer(a!, { text: 'Low  water' })).toEqual({ is: 'right' })
    expect(checkAnswer(a!, { text: 'ebb' })).toEqual({ is: 'right' })
    // Without a key nothing is wrong: it gets none by this.
    expect(checkAnswer(b!, { text: 'y' })).toEqual({ is: 'unchecked' })
    expect(a).toMatchObject({ accepted: ['ebb', 'low water'] })
    expect(content.blocks[0]).toMatchObject({ accepted: ['ebb'] })
    expect(withAccepted(content, {})).toBe(content)
    expect(acceptingToo(line('a', ['ebb']), [])).toEqual(line('a', ['ebb']))
  })

  test('only where an answer is checked by words', () => {
    expect(isCheckedByWords(line('a', ['ebb']))).toBe(true)
    expect(isCheckedByWords(line('a', []))).toBe(false)
    expect(isCheckedByWords({ id: 'n', kind: 'number', value: 4 } as unknown as AnswerSpace)).toBe(false)
  })

  test('are read, each once', () => {
    expect(checkAccepted([' low  water', 'low water'])).toEqual({ ok: true, value: ['low water'] })
    for (const texts of [[' '], ['x'.repeat(301)], Array.from({ length: 31 }, (_, at) => `${at}`)])
      expect(checkAccepted(texts)).toMatchObject({ ok: false, problems: [{ field: 'texts' }] })
  })
})
