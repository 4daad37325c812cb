import { expect } from '@playwright/test'
import { boardOf, test, windowOf } from './support/people.js'

test('a copy is given to keep: the student goes on in it on their own, and saves it; the class keeps its copy', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(await boardOf(teacher, 'Before the harbour walk'))
  await teacher.getByRole('checkbox', { name: 'Select Lindqvist, Elsa' }).click()
  await teacher.getByRole('checkbox', { name: 'Select Hatoyama, Ren' }).click()
  await teacher
    .getByRole('region', { name: 'Selected copies' })
    .getByRole('button', { name: 'Change', exact: true })
    .click()
  await teacher.getByRole('button', { name: 'Give to keep …' }).click()
  const dialog = teacher.getByRole('dialog')
  await expect(dialog.getByText('not begun: 1')).toBeVisible()
  await dialog.getByRole('button', { name: 'Give 1 copy to keep' }).click()
  await expect(dialog.getByText('1 copy given to 1 student to keep.')).toBeVisible()
  await dialog.getByRole('button', { name: 'Undo' }).click()
  await expect(dialog.getByText('Taken back: 1 copy.')).toBeVisible()
  await dialog.getByRole('button', { name: 'Close' }).last().click()

  // A whole class, and the one student is among it.
  await teacher.getByRole('link', { name: 'Class', exact: true }).click()
  await teacher.getByRole('link', { name: 'Overview' }).click()
  await teacher.getByRole('button', { name: 'Give to keep' }).click()
  await dialog.getByRole('button', { name: /^Give \d+ copies to keep$/ }).click()
  await expect(dialog.getByText(/^\d+ copies given to \d+ students to keep\./)).toBeVisible()

  const student = await windowOf(browser, 'Elsa Lindqvist')
  const kept = student.locator('section', { has: student.getByRole('heading', { name: 'Kept' }) })
  await kept.getByRole('link', { name: /Quayside safety/ }).click()
  await expect(student.getByText('Yours to keep, given by Adaeze Okonjo-Reyes')).toBeVisible()
  await expect(student.getByRole('button', { name: 'Submit' })).toHaveCount(0)
  const answer = student.getByRole('textbox', { name: /Where are the life jackets/ })
  const before = await answer.inputValue()
  await answer.fill('at the gate, both ways')
  await expect(student.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()
  const saving = student.waitForEvent('download')
  await student.getByRole('button', { name: 'web page' }).click()
  expect((await saving).suggestedFilename()).toMatch(/\.html$/)
  // The copy of the class is as it was.
  await student.getByRole('link', { name: 'The copy of your class' }).click()
  await expect(student.getByText(before, { exact: true }).first()).toBeVisible()
  await expect(student.getByText('both ways')).toHaveCount(0)
  await student.getByRole('link', { name: 'Back to my desk' }).click()
  await expect(kept.getByText('gone on with')).toBeVisible()

  // Taken back, what was opened stays.
  await dialog.getByRole('button', { name: 'Undo' }).click()
  await expect(dialog.getByText('1 copy was opened already and stays with its student.')).toBeVisible()
  await student.reload()
  await expect(kept.getByText('gone on with')).toBeVisible()
})
