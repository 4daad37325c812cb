import { expect } from '@playwright/test'
import { boardOf, test, url, windowOf } from './support/people.js'
import { fill, handOut, newSlip } from './support/slip.js'

test('a lesson watched on the board: answers as they come, pens down and up again, more time for one, one question read with the class', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Tern', /^Lighthouse sectors/, 'Lights in a lesson')
  await fill(teacher, /^Way:/, /^one each/)
  await handOut(teacher, /^Hand out 26 copies/)
  const handoutId = teacher.url().split('/').at(-1)!
  const [ana, bo] = [await windowOf(browser, 'Sora Nakamura'), await windowOf(browser, 'Ebele Okafor')]
  const strip = teacher.getByRole('group', { name: 'Copies by state' })
  const open = async (page: typeof ana) => {
    await page.goto(`${url()}/to/${handoutId}`)
    await expect(page.getByRole('button', { name: 'Submit' }).first()).toBeEnabled()
  }
  const width = (page: typeof ana) => page.getByRole('textbox', { name: /^Answer 2/ })

  await test.step('what is written shows in the grid, cell by cell', async () => {
    await teacher.getByRole('button', { name: 'Answer grid' }).click()
    await open(ana)
    await open(bo)
    await width(ana).fill('12')
    await width(bo).fill('12,0')
    await expect(strip.getByRole('button', { name: /2 working/ })).toBeVisible()
    await expect(teacher.getByRole('button', { name: /^Answer 2: .*: 2 of 26 answered/ })).toBeVisible()
    await expect(teacher.locator('tr', { hasText: 'Nakamura, Sora' }).locator('.cell-full')).toHaveCount(1)
  })

  await test.step('alike answers lie on one heap, and are shown large without names', async () => {
    await teacher.getByRole('button', { name: /^Answer 2: .*Read all answers/ }).click()
    await expect(teacher.getByText('2 answers, all alike · 24 empty')).toBeVisible()
    await expect(teacher.locator('.heap')).toContainText('Nakamura, Sora')
    await teacher.getByRole('button', { name: 'Show large' }).click()
    const large = teacher.getByRole('dialog', { name: 'One answer, large' })
    await expect(large.locator('.large-text')).toHaveText('12')
    await expect(large).not.toContainText('Nakamura, Sora')
    await teacher.keyboard.press('Escape')
    await expect(large).toBeHidden()
    // One that comes meanwhile is there too.
    await width(bo).fill('14')
    await expect(teacher.getByText('2 answers, all different · 24 empty')).toBeVisible()
    await teacher.getByRole('button', { name: '← All questions' }).click()
  })

  await test.step('over time: how many are in which state, and who wrote when', async () => {
    await teacher.getByRole('button', { name: 'Over time' }).click()
    await teacher.getByRole('button', { name: 'Last ten minutes' }).click()
    await expect(teacher.getByRole('img', { name: /Now: 2 working/ })).toBeVisible()
    await expect(teacher.locator('.apexcharts-series').first()).toBeVisible()
    const bars = teacher.locator('tr', { hasText: 'Nakamura, Sora' }).getByRole('img', { name: /^written in/ })
    await expect(bars).toBeVisible()
  })

  await test.step('pens go down in ten minutes, for one with a quarter more; on their pages it is counted down', async () => {
    await teacher.getByRole('button', { name: 'Table', exact: true }).click()
    await teacher.getByRole('button', { name: 'Pens …' }).click()
    const dialog = teacher.getByRole('dialog')
    await dialog.getByLabel('Down in', { exact: true }).check()
    await dialog.getByLabel('Minutes until pens go down').fill('8')
    await dialog.getByLabel('Who has extra time').selectOption({ label: 'Sora Nakamura' })
    await dialog.getByRole('button', { name: 'Add' }).click()
    await expect(dialog.getByText('a quarter more, 2 min')).toBeVisible()
    await expect(dialog.getByText('In 26 copies writing ends then', { exact: false })).toContainText(
      '1 copy has more time',
    )
    await dialog.getByRole('button', { name: 'Pens down in 8 min in 26 copies' }).click()
    await expect(dialog).toBeHidden()
    await expect(ana.locator('.pens-told')).toContainText(/pens down in (10:00|9:\d\d)/)
    await expect(bo.locator('.pens-told')).toContainText(/pens down in (8:00|7:\d\d)/)
    await expect(teacher.locator('.board-head .pens-told')).toContainText('the last in')
    await teacher.getByRole('button', { name: 'Undo' }).click()
    await expect(teacher.getByText('Undone in 26 copies.')).toBeVisible()
    await expect(ana.locator('.pens-told')).toBeHidden()
    await teacher.getByRole('button', { name: 'Close', exact: true }).click()
  })

  await test.step('pens down now, and up again for one', async () => {
    await teacher.getByRole('button', { name: 'Pens …' }).click()
    await teacher.getByRole('dialog').getByRole('button', { name: 'Pens down in 26 copies' }).click()
    await expect(ana.getByText('Pens are down: your teacher has stopped writing', { exact: false })).toBeVisible()
    await expect(bo.locator('.sheet').getByRole('textbox')).toHaveCount(0)
    await teacher.getByRole('checkbox', { name: /^Select Nakamura, Sora/ }).click()
    const bar = teacher.getByRole('region', { name: 'Selected copies' })
    await bar.getByRole('button', { name: 'Pens …' }).click()
    const dialog = teacher.getByRole('dialog')
    await dialog.getByRole('button', { name: 'Pens up in 1 copy' }).click()
    await width(ana).fill('15')
    await expect(ana.getByText(/^Saved /)).toBeVisible()
    await expect(bo.getByText('Pens are down', { exact: false }).first()).toBeVisible()
    await bar.getByRole('button', { name: 'Select none' }).click()
    await teacher.getByRole('button', { name: 'Only' }).click()
    await teacher.getByRole('button', { name: 'Pens down', exact: true }).click()
    await expect(teacher.getByText('25 of 26 copies', { exact: false })).toBeVisible()
    await teacher.getByRole('button', { name: /^Pens down/ }).click()
  })
})

test('columns are chosen, sorted by and remembered; a row keeps its place until it is sorted anew', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(await boardOf(teacher, 'Tides at the quay'))
  await teacher.getByRole('button', { name: 'Columns' }).click()
  await teacher.locator('.dropdown-menu.show').getByRole('button', { name: 'Sittings' }).click()
  await teacher.locator('.dropdown-menu.show').getByRole('button', { name: 'Submitted' }).click()
  await teacher.keyboard.press('Escape')
  await expect(teacher.getByRole('columnheader', { name: 'Submitted' })).toHaveCount(0)
  await teacher.getByRole('columnheader', { name: 'Sittings' }).getByRole('button').click()
  await teacher.getByRole('columnheader', { name: 'Sittings' }).getByRole('button').click()
  await expect(teacher.getByRole('columnheader', { name: 'Sittings' })).toHaveAttribute('aria-sort', 'descending')
  await expect(teacher.locator('tbody tr').first()).toContainText('9 of 9')
  await teacher.getByLabel('Find a copy').fill('petrov')
  await expect(teacher.locator('.row-button')).toHaveText(['Petrov, Даниил'])
  await teacher.reload()
  await expect(teacher.getByRole('columnheader', { name: 'Sittings' })).toBeVisible()
  await expect(teacher.getByRole('columnheader', { name: 'Submitted' })).toHaveCount(0)
})
