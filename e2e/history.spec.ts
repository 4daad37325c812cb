import { type Page, expect } from '@playwright/test'
import { submit, test, windowOf } from './support/people.js'

/** Opens one's copy of a handout; its address. */
async function openCopy(page: Page, title: RegExp): Promise<string> {
  await page.getByRole('link', { name: title }).first().click()
  await expect(page.getByText('All saved')).toBeVisible()
  return new URL(page.url()).pathname
}
const line = (page: Page) => page.getByLabel(/^Answer 3/).first()

test('what came late is taken in by the teacher, in front of the student; the history shows how it came to be, and brings back', async ({
  browser,
}) => {
  const student = await windowOf(browser, 'Chidi Abara')
  const address = await openCopy(student, /Our sea words/)
  await line(student).fill('low water')
  await expect(student.getByText(/^Saved \d\d/)).toBeVisible()
  // Without a network, and submitted elsewhere meanwhile.
  await student.context().setOffline(true)
  await line(student).press('End')
  await line(student).pressSequentially(' at noon')
  const elsewhere = await windowOf(browser, 'Chidi Abara')
  await elsewhere.goto(address)
  await expect(elsewhere.getByText('All saved')).toBeVisible()
  await submit(elsewhere)
  await expect(elsewhere.getByText(/It stands still now/)).toBeVisible()
  await student.context().setOffline(false)
  const late = student.getByRole('region', { name: 'Late writing' })
  await expect(late.locator('ins')).toHaveText('at noon')
  await expect(late).toContainText('unless a teacher takes it in')

  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(address)
  const offered = teacher.getByRole('region', { name: 'Late writing' })
  await offered.getByRole('button', { name: 'Take it into the answer' }).click()
  await expect(offered).toContainText('Taken into the answer')
  await expect(line(teacher)).toHaveText('low water at noon')
  // In the student's window without loading it again.
  await expect(line(student)).toHaveText('low water at noon')
  await expect(late).toContainText('Taken into the answer by Adaeze Okonjo-Reyes')

  await teacher.getByRole('link', { name: 'History' }).first().click()
  const lines = teacher.getByRole('complementary', { name: 'What happened' })
  await expect(lines.getByRole('button', { name: /^Late writing taken in: Answer 3/ })).toBeVisible()
  await lines.getByRole('button', { name: /^Submitted/ }).click()
  await expect(line(teacher)).toHaveText('low water')
  await teacher.keyboard.press('Home')
  await expect(line(teacher)).toHaveText(/^(nothing written yet)?$/)
  await expect(teacher.getByRole('slider', { name: 'Moment' })).toHaveAttribute(
    'aria-valuetext',
    'As it was given: nothing is written yet',
  )
  await teacher.getByRole('button', { name: 'Compare from here' }).click()
  await teacher.keyboard.press('End')
  await expect(line(teacher).locator('ins')).toHaveText('low water at noon')
  await teacher.getByRole('button', { name: 'Compare no more' }).click()

  // As it was when it was submitted, and that taken back.
  await lines.getByRole('button', { name: /^Submitted/ }).click()
  await teacher.getByRole('button', { name: 'Bring this back' }).click()
  await expect(teacher.getByRole('dialog')).toContainText('This answer becomes what it was then')
  await teacher.getByRole('button', { name: 'Bring back', exact: true }).click()
  await expect(teacher.getByText('The answer is brought back, as a step of its own.')).toBeVisible()
  await expect(line(student)).toHaveText('low water')
  await expect(lines.getByRole('button', { name: /^Earlier answers brought back: Answer 3/ })).toBeVisible()
  await teacher.getByRole('button', { name: 'Take that back' }).click()
  await teacher.getByRole('dialog').getByRole('button', { name: 'Take it back' }).click()
  await expect(line(student)).toHaveText('low water at noon')

  // The student sees the same history, and brings nothing back.
  await student.getByRole('link', { name: 'History' }).first().click()
  await expect(student.getByRole('button', { name: /^Submitted/ })).toBeVisible()
  await student.getByRole('button', { name: /^Submitted/ }).click()
  await expect(line(student)).toHaveText('low water')
  await expect(student.getByRole('button', { name: 'Bring this back' })).toHaveCount(0)
  await student.getByRole('button', { name: 'Play' }).click()
  await expect(line(student)).toHaveText('low water at noon')
})
