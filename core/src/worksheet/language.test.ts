import { describe, expect, test } from '@jest/globals'
import { checkContent } from './check.js'
import { EMPTY_CONTENT, type WorksheetContent } from './content.js'
import { guessLanguage, languageOf } from './language.js'
import { mergeDrafts } from './merge.js'

const text = (words: string): WorksheetContent['blocks'][number] => ({
  id: 't',
  kind: 'text',
  rich: { type: 'paragraph', content: [{ type: 'text', text: words }] },
})
const PORTUGUESE = 'Explica por que razão a maré sobe duas vezes por dia e desenha um esquema com a Lua e o Sol.'

describe('the language of a worksheet', () => {
  test('is guessed from its print, and not from a few words', () => {
    expect(guessLanguage(PORTUGUESE)).toBe('pt')
    expect(guessLanguage('Explain why the tide comes in twice a day, and draw the moon, the sun and the earth.')).toBe(
      'en',
    )
    expect(guessLanguage('اشرح لماذا يرتفع المد مرتين في اليوم وارسم القمر والشمس والأرض في مخطط واضح')).toBe('ar')
    expect(guessLanguage('Tides')).toBe('')
  })

  test('is what its author says, whatever the text', () => {
    const content = { ...EMPTY_CONTENT, blocks: [text(PORTUGUESE)] }
    expect(languageOf(content)).toBe('pt')
    expect(languageOf({ ...content, language: 'gl' })).toBe('gl')
  })

  test('is kept, with whether spelling is helped with; what is no language is refused', () => {
    const kept = checkContent({ ...EMPTY_CONTENT, language: 'pt-PT', spelling: false })
    expect(kept.ok && kept.value).toMatchObject({ language: 'pt-PT', spelling: false })
    expect(checkContent({ ...EMPTY_CONTENT, language: 'not a language' }).ok).toBe(false)
    const plain = checkContent({ ...EMPTY_CONTENT, spelling: true })
    expect(plain.ok && Object.keys(plain.value)).toEqual(['version', 'page', 'source', 'blocks'])
  })

  test('two authors: what one set is taken', () => {
    const draft = (more: object) => ({ title: 'T', content: { ...EMPTY_CONTENT, ...more } })
    const merged = mergeDrafts(draft({}), draft({ language: 'pt' }), draft({ spelling: false }))
    expect(merged.content).toMatchObject({ language: 'pt', spelling: false })
  })
})
