import { expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

test('undo goes back over all answers of the page in the order in which they were written, and leaves what others wrote', async ({
  browser,
}) => {
  const student = await windowOf(browser, 'Noa Kamakau')
  await student
    .getByRole('link', { name: /Harbour front page/ })
    .first()
    .click()
  await expect(student.getByText('All saved')).toBeVisible()
  const passage = student.locator('.answer-passage[contenteditable=true]').first()
  const line = student.locator('input.answer').first()
  const [wasPassage, wasLine] = [await passage.innerText(), await line.inputValue()]

  await passage.click()
  await student.keyboard.press('Control+End')
  // In one go: what is typed with pauses in it, as on a slow machine, is undone in as many steps.
  await student.keyboard.insertText(' First.')
  await line.click()
  await student.keyboard.press('End')
  await student.keyboard.type('x')
  await passage.click()
  await student.keyboard.press('Control+End')
  await student.keyboard.insertText(' Third.')
  await expect(passage).toContainText('First. Third.')

  // A second window of theirs writes too: nothing of that is undone here.
  const other = await student.context().newPage()
  await other.goto(student.url())
  const theirs = other.locator('.answer-passage[contenteditable=true]').first()
  await expect(theirs).toContainText('First. Third.')
  await theirs.click()
  await other.keyboard.press('Control+Home')
  await other.keyboard.type('By another. ')
  await expect(passage).toContainText('By another.')

  await student.bringToFront()
  await student.keyboard.press('Control+z')
  await expect(passage).not.toContainText('Third.')
  await expect(line).toHaveValue(`${wasLine}x`)
  await student.keyboard.press('Control+z')
  await expect(line).toHaveValue(wasLine)
  await expect(line).toBeFocused()
  await expect(passage).toContainText('First.')
  await student.keyboard.press('Control+z')
  await expect(passage).not.toContainText('First.')
  await expect(passage).toBeFocused()
  await expect(passage).toContainText('By another.')
  await student.keyboard.press('Control+Shift+z')
  await student.keyboard.press('Control+Shift+z')
  await expect(line).toHaveValue(`${wasLine}x`)
  await student.keyboard.press('Control+z')
  await student.keyboard.press('Control+z')
  await expect.poll(async () => (await passage.innerText()).replace('By another. ', '').trim()).toBe(wasPassage.trim())
})
