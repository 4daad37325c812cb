import { expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

test('a copy is saved as a document; one of one’s own is put with it, is the answer, and is handed in with it', async ({
  browser,
}) => {
  const student = await windowOf(browser, 'Elif Şahin')
  await student
    .getByRole('link', { name: /Reading a tide table/ })
    .first()
    .click()
  await expect(student.getByText('All saved')).toBeVisible()
  const part = student.getByRole('region', { name: 'Documents' })
  const saving = student.waitForEvent('download')
  await part.getByRole('button', { name: 'DOCX' }).click()
  expect((await saving).suggestedFilename()).toMatch(/Reading a tide table\.docx$/)

  await part
    .getByLabel(/^Put a document here/)
    .setInputFiles({ name: 'my tides.txt', mimeType: 'text/plain', buffer: Buffer.from('High water at ten.') })
  await expect(part.getByRole('link', { name: 'my tides.txt' })).toBeVisible()
  await part.getByRole('button', { name: 'Take my tides.txt out' }).click()
  await expect(part.getByRole('link', { name: 'my tides.txt' })).toHaveCount(0)
  await part.getByRole('button', { name: 'Put it back' }).click()
  await expect(part.getByRole('link', { name: 'my tides.txt' })).toBeVisible()
  // A hurried student, a slow network: it is submitted before Gavrin has heard that this is the answer.
  let arrive = () => {}
  const isHeard = new Promise<void>((resolve) => (arrive = resolve))
  await student.route('**/documents/*', async (route) => {
    await isHeard
    await route.continue()
  })
  await part.getByLabel('This is my answer').click()
  await expect(part.getByLabel('This is my answer')).toBeChecked()
  const address = student.url()
  // What is empty is not asked about: the answer is elsewhere.
  await student.getByRole('button', { name: 'Submit' }).first().click()
  await expect(student.getByRole('button', { name: 'Submitting …' }).first()).toBeVisible()
  arrive()
  await expect(student.getByRole('button', { name: 'Take back' }).first()).toBeVisible()
  await expect(part.getByText('the answer', { exact: true })).toBeVisible()

  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(address)
  await expect(teacher.getByRole('region', { name: 'Documents' }).getByText('the answer')).toBeVisible()
  const opening = teacher.waitForEvent('popup')
  const download = teacher.context().waitForEvent('page')
  await teacher.getByRole('link', { name: 'my tides.txt' }).click()
  await Promise.any([opening, download])
  await teacher.getByRole('link', { name: 'Back to the board' }).click()
  await expect(teacher.getByRole('row', { name: /Şahin, Elif/ })).toContainText('own document')
})
