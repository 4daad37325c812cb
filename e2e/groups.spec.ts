import { type Page, expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

const group = (page: Page, name: string) => page.getByRole('region', { name, exact: true })

async function openGroups(page: Page, className: string): Promise<void> {
  await page.getByRole('link', { name: className }).click()
  await page.getByRole('link', { name: 'Groups' }).click()
}

test('groups are made, dragged in, moved by keyboard, renamed, joined and undone', async ({ browser }) => {
  const page = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await openGroups(page, '8 Heron')

  await test.step('two names that look like one are joined with a click', async () => {
    await expect(page.getByText('Lock gate and Lock gates look like one group (a plural).')).toBeVisible()
    await page.getByRole('button', { name: 'Join them as Lock gate' }).click()
    await expect(group(page, 'Lock gates')).toHaveCount(0)
    await expect(group(page, 'Lock gate')).toContainText('Minh Anh Nguyễn')
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(group(page, 'Lock gates')).toBeVisible()
    await page.getByRole('button', { name: 'Redo' }).click()
    await expect(group(page, 'Lock gates')).toHaveCount(0)
  })

  await test.step('dragged with the mouse', async () => {
    const from = await page.getByRole('button', { name: 'Chidi Abara', exact: true }).boundingBox()
    const to = await group(page, 'Net loft').boundingBox()
    await page.mouse.move(from!.x + 20, from!.y + 8)
    await page.mouse.down()
    await page.mouse.move(from!.x + 40, from!.y + 20, { steps: 4 })
    await page.mouse.move(to!.x + 60, to!.y + 60, { steps: 12 })
    // A person sees where it would fall before letting go.
    await expect(group(page, 'Net loft')).toHaveClass(/over/)
    await page.mouse.up()
    await expect(group(page, 'Net loft')).toContainText('Chidi Abara')
    await expect(group(page, 'Crane')).not.toContainText('Chidi Abara')
  })

  await test.step('moved by the number of the group, and by the menu', async () => {
    const chidi = page.getByRole('button', { name: 'Chidi Abara', exact: true })
    await chidi.focus()
    await page.keyboard.press('1')
    await expect(group(page, 'Crane')).toContainText('Chidi Abara')
    await expect(chidi).toBeFocused()
    await page.keyboard.press('0')
    await expect(group(page, 'In no group')).toContainText('Chidi Abara')
    await page.keyboard.press('Control+z')
    await expect(group(page, 'Crane')).toContainText('Chidi Abara')
    await page.getByRole('button', { name: '··· Move Chidi Abara' }).click()
    await page.getByRole('button', { name: 'Keep here when groups are made again' }).click()
    await expect(group(page, 'Crane')).toContainText('kept')
  })

  await test.step('made again: who is kept stays, and who is to be apart is', async () => {
    await page.getByRole('button', { name: 'Make the groups anew' }).click()
    await page.getByLabel('Number of groups').fill('7')
    await expect(page.getByRole('dialog').getByRole('status')).toHaveText('28 students in 7 groups of 4.')
    await page.getByRole('dialog').getByLabel('Reading band').check()
    await page.getByRole('dialog').getByRole('button', { name: 'Make groups' }).click()
    await expect(page.getByText('Everybody is in a group.')).toBeVisible()
    await expect(group(page, 'Crane')).toContainText('Chidi Abara')
    await expect(group(page, 'Group 1')).toBeVisible()
    await expect(page.getByText(/are to be apart/)).toHaveCount(0)
    for (const name of ['Crane', 'Lock gate', 'Slipway', 'Buoy yard', 'Ferry steps', 'Net loft', 'Group 1'])
      await expect(group(page, name).locator('[data-person]')).toHaveCount(4)
  })

  await test.step('what cannot be is said with its reason', async () => {
    for (const [a, b] of [
      ['Chidi Abara', 'Elsa Lindqvist'],
      ['Chidi Abara', 'Noa Kamakau'],
      ['Noa Kamakau', 'Elsa Lindqvist'],
    ] as const) {
      await page.getByRole('button', { name: 'Keep two together or apart' }).click()
      await page.getByLabel('First student').selectOption(a)
      await page.getByLabel('Second student').selectOption(b)
      if (a !== 'Noa Kamakau') await page.getByLabel('Together or apart').selectOption('together')
      await page.getByRole('button', { name: 'Keep', exact: true }).click()
      await expect(
        page
          .getByRole('button', { name: `Drop: ${a} and ${b}` })
          .or(page.getByRole('button', { name: `Drop: ${b} and ${a}` })),
      ).toBeVisible()
    }
    await page.getByRole('button', { name: 'Make the groups anew' }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Make groups' }).click()
    await expect(page.getByRole('dialog').getByRole('alert')).toContainText('are to be apart, and also together')
  })
})

test('group sets out of a column, a pasted list, and taken away and brought back', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await openGroups(page, '7 Dunlin')
  await page.getByRole('button', { name: 'Make the first group set' }).click()
  await page.getByLabel(/^Name, e\.g\. Survey/).fill('Tutor groups')
  await page.getByLabel('Where the groups come from').selectOption('From a column of the roster')
  await page.getByLabel('A group for each value of').selectOption('Tutor')
  await page.getByRole('button', { name: 'Make the set' }).click()
  await expect(group(page, 'Nakamura-Ruiz').locator('[data-person]')).toHaveCount(8)

  await page.getByRole('button', { name: 'New group set' }).click()
  await page.getByLabel(/^Name, e\.g\. Survey/).fill('tutor GROUPS')
  await page.getByLabel('Where the groups come from').selectOption('From a pasted list')
  await page
    .getByLabel(/^A student and a group/)
    .fill('Boat one: kofi amankwah, Haddow Wren\nMei Sato\tBoat two\nNobody\tBoat two')
  await expect(page.getByText('2 groups with 3 students.')).toBeVisible()
  await expect(page.getByText('Line 3: Nobody in this class is called "Nobody".')).toBeVisible()
  await page.getByRole('button', { name: 'Make the set' }).click()
  await expect(page.getByText('There is "Tutor groups" already.')).toBeVisible()
  await page.getByLabel(/^Name, e\.g\. Survey/).fill('Boats')
  await page.getByRole('button', { name: 'Make the set' }).click()
  await expect(group(page, 'Boat one')).toContainText('Wren Haddow')

  await page.getByRole('button', { name: 'More for Boats' }).click()
  await page.getByRole('button', { name: 'Take this set away' }).click()
  await expect(page.getByRole('heading', { name: 'Tutor groups' })).toBeVisible()
  await page.getByRole('button', { name: 'Bring it back' }).click()
  await expect(group(page, 'Boat two')).toContainText('Mei Sato')
  await page.getByRole('button', { name: 'More for Boats' }).click()
  await page.getByRole('link', { name: 'Group lists to print' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Mei Sato' })).toBeVisible()
})

test('students sign up; the last place goes to whoever comes first, and the teacher sees it', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await openGroups(teacher, '8 Tern')
  const one = await windowOf(browser, 'Mila Ivanova')
  const two = await windowOf(browser, 'Maja Kowalska')
  for (const student of [one, two]) {
    await student.getByRole('link', { name: /Harbour trades/ }).click()
    await expect(student.getByText('Choose a group.', { exact: false })).toBeVisible()
  }
  await expect(one.getByRole('listitem').filter({ hasText: 'Chart makers' })).toContainText('full')
  await teacher.getByRole('button', { name: 'Settings' }).click()
  await teacher.getByRole('dialog').getByLabel('Customs house').fill('1')
  await teacher.getByRole('dialog').getByRole('button', { name: 'Keep' }).click()
  await expect(group(teacher, 'Customs house')).toContainText('0 of 1')
  await Promise.all([one, two].map((student) => student.getByRole('button', { name: 'Choose Customs house' }).click()))
  // One of the two is in; the other one is told.
  await expect(group(teacher, 'Customs house')).toContainText('1 of 1')
  await expect
    .poll(async () =>
      (await Promise.all([one, two].map((student) => student.getByText('You are in Customs house.').count()))).join(''),
    )
    .toMatch(/^(10|01)$/)
  await expect
    .poll(async () =>
      (
        await Promise.all(
          [one, two].map((student) => student.getByText('Customs house is full.', { exact: false }).count()),
        )
      ).join(''),
    )
    .toMatch(/^(10|01)$/)
})
