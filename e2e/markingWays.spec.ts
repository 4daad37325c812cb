import { expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

// How copies are marked: scales of the school, rubrics that are kept, practice that checks itself.

test('the office keeps a scale; a teacher takes it, reads a rubric from a table, keeps and shares it; a colleague uses it', async ({
  browser,
}) => {
  const office = await windowOf(browser, 'Joana Ferreira-Lund')
  await office.getByRole('button', { name: 'Scales' }).click()
  const scales = office.getByRole('dialog', { name: 'Scales of the school' })
  await scales.getByRole('button', { name: 'Add a scale' }).click()
  await scales.getByLabel('Name').fill('Sea states')
  await scales.getByLabel('Steps, best first').fill('Calm, Choppy, Rough')
  await scales.getByLabel(/^From how many per cent/).fill('80, 90, 0')
  await scales.getByRole('button', { name: 'Keep' }).click()
  await expect(scales.getByRole('alert')).toContainText('fall from 100 at most to 0')
  await scales.getByLabel(/^From how many per cent/).fill('80, 40, 0')
  await scales.getByRole('button', { name: 'Keep' }).click()
  await expect(scales.getByRole('listitem').filter({ hasText: 'Sea states' })).toContainText('Choppy from 40 %')

  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  const slipOf = async (page: typeof teacher) => {
    await page.getByRole('link', { name: 'New handout' }).first().click()
    await expect(page.getByRole('textbox', { name: 'Title of the handout' })).toBeVisible()
  }
  // Others of the class find nothing of it.
  const thrownAway = async (page: typeof teacher) => {
    await page.getByRole('button', { name: 'Throw this draft away' }).click()
    await expect(page).toHaveURL(/\/handouts$/)
  }
  await slipOf(teacher)
  await teacher.getByRole('button', { name: /^Marking:/ }).click()
  await teacher.getByRole('button', { name: 'marked by a scale' }).click()
  await teacher.getByRole('button', { name: /^Sea states/ }).click()
  await expect(teacher.getByLabel('From how many per cent each is reached')).toHaveValue('80, 40, 0')
  await teacher.keyboard.press('Escape')
  await expect(teacher.getByRole('button', { name: 'Marking: marked Calm to Rough' })).toBeVisible()

  await teacher.getByRole('button', { name: 'Rubrics' }).click()
  await teacher.getByRole('button', { name: 'From a table' }).click()
  const table = teacher.getByRole('dialog', { name: 'A rubric from a table' })
  await table.getByLabel('The table, pasted').fill('Criterion\tGood\tWeak\nReasons\tall\tnone')
  await expect(table.getByRole('alert')).toContainText('Say what each level of “Reasons” is worth')
  await table.getByLabel('The table, pasted').fill('Criterion\tGood (3)\tWeak (1)\nReasons\tall\tnone')
  await table.getByRole('button', { name: 'Use 1 row' }).click()
  await expect(teacher.getByLabel('Level 1 of Reasons', { exact: true })).toHaveValue('Good: all')
  await teacher.getByRole('button', { name: 'Rubrics' }).click()
  await teacher.getByLabel('Name of this rubric, to keep it').fill('Log book')
  await teacher.getByLabel('Colleagues may use it too').check()
  await teacher.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(teacher.getByRole('button', { name: /^Log book 1 row · shared/ })).toBeVisible()

  await teacher.keyboard.press('Escape')
  await thrownAway(teacher)

  const colleague = await windowOf(browser, 'Birgit Sandvik')
  await slipOf(colleague)
  await colleague.getByRole('button', { name: /^Marking:/ }).click()
  await colleague.getByRole('button', { name: 'marked by the points of its answer spaces' }).click()
  await colleague.keyboard.press('Escape')
  await colleague.getByRole('button', { name: 'Rubrics' }).click()
  await colleague.getByRole('button', { name: /^Log book 1 row · Adaeze Okonjo-Reyes/ }).click()
  await expect(colleague.getByLabel('Row 1 of the rubric', { exact: true })).toHaveValue('Reasons')
  await colleague.keyboard.press('Escape')
  await thrownAway(colleague)
})

test('practice checks itself while a student writes', async ({ browser }) => {
  const student = await windowOf(browser, 'Wren Haddow')
  await student
    .getByRole('link', { name: /Measuring ropes/ })
    .first()
    .click()
  await expect(student.getByText('This sheet checks itself')).toBeVisible()
  const answer = student.getByRole('textbox', { name: /What does/ })
  await answer.fill('the wind')
  await expect(student.getByText('not right yet')).toBeVisible()
  await answer.fill('gravity')
  await expect(student.getByText('1 of 1 checked answer is right.')).toBeVisible()
  await student.reload()
  await expect(student.getByText('1 of 1 checked answer is right.')).toBeVisible()
})
