import { newAnswerDoc } from '@gavrin/core'
import { afterEach, expect, test } from '@jest/globals'
import { act, cleanup, render, screen } from '@testing-library/react'
import { useLayoutEffect } from 'react'
import type * as Y from 'yjs'
import { AnswerView } from '../src/sheet/AnswerView'

const SPACE = { id: 'a', kind: 'line', width: 'full' } as const
afterEach(cleanup)

/** Writes after the page is drawn for the first time, and before anything on it listens. */
function WrittenMeanwhile({ doc }: { doc: Y.Doc }) {
  useLayoutEffect(() => doc.getText('line').insert(0, 'high water'), [doc])
  return null
}

test('an answer grows as it is written', () => {
  const doc = newAnswerDoc('line')
  render(<AnswerView space={SPACE} doc={doc} label="Answer 1" />)
  act(() => doc.getText('line').insert(0, 'high'))
  expect(screen.getByLabelText('Answer 1').textContent).toBe('high')
  act(() => doc.getText('line').insert(4, ' water'))
  expect(screen.getByLabelText('Answer 1').textContent).toBe('high water')
})

test('what comes between the first drawing and the listening is shown too', () => {
  const doc = newAnswerDoc('line')
  render(
    <>
      <AnswerView space={SPACE} doc={doc} label="Answer 1" />
      <WrittenMeanwhile doc={doc} />
    </>,
  )
  expect(screen.getByLabelText('Answer 1').textContent).toBe('high water')
})
