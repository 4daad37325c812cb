import { afterEach, expect, test } from '@jest/globals'
import { Editor } from '@tiptap/core'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { content, text } from '../../core/src/worksheet/testing/samples'
import { PageSettings } from '../src/editor/PageSettings'
import { type PageAbout, toEditor } from '../src/editor/document'
import { WORKSHEET } from '../src/editor/extensions'
import { surroundings } from './support/server'

afterEach(cleanup)

const PORTUGUESE = 'Explica por que razão a maré sobe duas vezes por dia e desenha um esquema com a Lua e o Sol.'

function shown(about: Partial<PageAbout> = {}, before: (editor: Editor) => void = () => undefined) {
  const editor = new Editor({
    extensions: WORKSHEET,
    content: toEditor(content(text('t', PORTUGUESE))),
    injectCSS: false,
  })
  before(editor)
  const set: PageAbout[] = []
  render(
    <PageSettings
      editor={editor}
      mediaUrl={(id) => id}
      about={{ page: 'A4', source: '', ...about }}
      setAbout={(next) => set.push(next)}
    />,
    { wrapper: surroundings().Around },
  )
  return set
}

test('the language is as the text reads, or set; spelling help can be taken away', () => {
  const set = shown()
  expect(screen.getByRole('option', { name: 'as the text reads: Portuguese' })).toBeTruthy()
  fireEvent.change(screen.getByLabelText('Language'), { target: { value: 'gl' } })
  fireEvent.click(screen.getByLabelText('Browsers help with spelling in answers'))
  expect(set).toEqual([
    { page: 'A4', source: '', language: 'gl' },
    { page: 'A4', source: '', spelling: false },
  ])
})

test('a page that is drawn while its editor ends is drawn all the same', () => {
  shown({}, (editor) => editor.destroy())
  expect(screen.getByRole('option', { name: 'as the text reads: Portuguese' })).toBeTruthy()
})

test('a language that is none of the list stays what it is', () => {
  const set = shown({ language: 'pt-PT', spelling: false })
  expect(screen.getByLabelText<HTMLSelectElement>('Language').value).toBe('pt-PT')
  fireEvent.change(screen.getByLabelText('Language'), { target: { value: '' } })
  fireEvent.click(screen.getByLabelText('Browsers help with spelling in answers'))
  expect(set).toEqual([
    { page: 'A4', source: '', spelling: false },
    { page: 'A4', source: '', language: 'pt-PT' },
  ])
})
