import { expect } from '@playwright/test'
import { boardOf, test, windowOf } from './support/people.js'

test('a class at a glance, one student of it, and their copies as documents to be fetched', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.getByRole('link', { name: '8 Heron' }).first().click()
  await teacher.getByRole('link', { name: 'Overview' }).click()
  const table = teacher.getByRole('table')
  await expect(table.getByRole('columnheader', { name: 'Tides and harbours' })).toBeVisible()
  await teacher.getByLabel('only who misses something').check()
  await expect(table.getByRole('rowheader', { name: 'Abara, Chidi' })).toHaveCount(0)
  await teacher.getByLabel('Unit', { exact: true }).selectOption('Maps and scale')
  await expect(table.getByRole('link', { name: /Before the harbour walk/ }).first()).toBeVisible()
  await expect(table.getByRole('link', { name: /Tides at the quay/ })).toHaveCount(0)
  await table.getByRole('link', { name: 'Hatoyama, Ren', exact: true }).click()
  await expect(teacher.getByRole('heading', { name: /^1 missing/ })).toBeVisible()

  await teacher.getByRole('button', { name: 'Copies as documents' }).click()
  const dialog = teacher.getByRole('dialog')
  await dialog.getByLabel('OpenDocument (ODT)').check()
  await dialog.getByRole('button', { name: 'Save them' }).click()
  await expect(dialog.getByRole('link', { name: 'Fetch' })).toBeVisible()
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('button', { name: 'Adaeze Okonjo-Reyes' }).click()
  await teacher.getByRole('link', { name: 'Copies as documents' }).click()
  const fetching = teacher.waitForEvent('download')
  await teacher.getByRole('link', { name: 'Fetch' }).first().click()
  expect((await fetching).suggestedFilename()).toMatch(/^Ren Hatoyama\.zip$/)
})

test('several copies at once: another name, submitted for them, one comment on all; each undone', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(await boardOf(teacher, 'Knots before the regatta'))
  const select = async () => {
    for (const name of ['Sørensen, Aksel', 'Uyanga, Bat-Erdene'])
      await teacher.getByRole('checkbox', { name: `Select ${name}` }).click()
  }
  const bar = teacher.getByRole('region', { name: 'Selected copies' })
  const change = async (item: string) => {
    await bar.getByRole('button', { name: 'Change', exact: true }).click()
    await teacher.getByRole('button', { name: item }).click()
  }
  const dialog = teacher.getByRole('dialog')
  await select()

  await test.step('renamed, as it was shown', async () => {
    await change('Rename …')
    await dialog.getByLabel('Words').fill('(again)')
    await expect(dialog.getByText(/Sørensen, Aksel – .* \(again\)/)).toBeVisible()
    await dialog.getByRole('button', { name: 'Rename 2 copies' }).click()
    await expect(teacher.getByText('2 copies renamed.')).toBeVisible()
    await teacher.getByRole('button', { name: 'Undo …' }).click()
    await expect(dialog.getByText('has its former name').first()).toBeVisible()
    // Where others have changed the class since, it says so, and the number is another one.
    await dialog.getByRole('button', { name: /^Change \d+ copies$/ }).click()
    await expect(dialog).toBeHidden()
  })

  await test.step('submitted for them, and taken back', async () => {
    await change('Submit for them …')
    await dialog.getByRole('button', { name: 'Submit 2 copies' }).click()
    await expect(teacher.getByRole('row', { name: /Sørensen, Aksel/ })).toContainText('submitted')
    await teacher.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(teacher.getByText('Undone in 2 copies.')).toBeVisible()
    await expect(teacher.getByRole('row', { name: /Sørensen, Aksel/ })).toContainText('taken back')
  })

  await test.step('one comment on all', async () => {
    await bar.getByRole('button', { name: 'Comment' }).click()
    await dialog.getByLabel('What you want to say of each of them').fill('Say which knot it is.')
    await dialog.getByRole('button', { name: 'Say it of 2 copies' }).click()
    await expect(teacher.getByText('Said of 2 copies.')).toBeVisible()
    await teacher.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(teacher.getByText('Taken back from 2 copies.')).toBeVisible()
  })

  await test.step('each student a line', async () => {
    await teacher.getByRole('button', { name: 'By student' }).click()
    await teacher.getByRole('searchbox', { name: 'Find a copy' }).fill('Sørensen')
    await expect(
      teacher.getByRole('row', { name: /Sørensen, Aksel/ }).getByRole('link', { name: /Knots|\d of 3/ }),
    ).toBeVisible()
  })
})

test('copies that are alike are shown side by side, with when and how it came', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(await boardOf(teacher, 'Tides at the quay'))
  await teacher.getByRole('button', { name: 'More' }).click()
  await teacher.getByRole('link', { name: 'Likeness between copies' }).click()
  const pair = teacher.getByRole('region', { name: 'Noa Kamakau and Suryani' })
  await expect(pair.locator('mark').first()).toContainText('My grandfather keeps his boat behind the sill')
  await expect(pair.getByText(/came in one piece of \d+ characters/)).toBeVisible()
  await teacher.getByRole('button', { name: 'Put a text beside' }).click()
  const dialog = teacher.getByRole('dialog')
  await dialog.getByLabel('Called').fill('Harbour almanac')
  await dialog
    .getByLabel('Text', { exact: true })
    .fill(
      'Old people here say you count back from the top of the tide, never from the table alone, because a north wind can hold the water out.',
    )
  await dialog.getByRole('button', { name: 'Compare with it' }).click()
  await expect(teacher.getByRole('row', { name: /Noa Kamakau Harbour almanac/ })).toBeVisible()
})

test('a program of one’s own gets a token, shown once, and loses it', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.getByRole('button', { name: 'Adaeze Okonjo-Reyes' }).click()
  await teacher.getByRole('link', { name: 'Own programs' }).click()
  await teacher.getByLabel('What it is for').fill('Monday list')
  await teacher.getByRole('button', { name: 'Make the token' }).click()
  const token = await teacher.getByLabel('Token for Monday list').inputValue()
  const asked = () => teacher.request.get('/api/classes', { headers: { authorization: `Bearer ${token}` } })
  expect((await asked()).status()).toBe(200)
  await teacher.getByRole('button', { name: 'Take back the token for Monday list' }).click()
  await expect(teacher.getByText('No token yet.')).toBeVisible()
  expect((await asked()).status()).toBe(401)
})
