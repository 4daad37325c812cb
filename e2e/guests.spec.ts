import { expect } from '@playwright/test'
import { test, url, windowOf } from './support/people.js'
import { handOut, newSlip } from './support/slip.js'

test('a guest is matched with a student, whose copy it is from then on; it is taken back while the student has not written', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Tern', /^Sea-word glossary/, 'Words for guests')
  await handOut(teacher, /^Hand out 26 copies/)
  await teacher.getByRole('button', { name: 'More', exact: true }).click()
  await teacher.getByRole('button', { name: 'Class link and walk-in link' }).click()
  const links = teacher.getByRole('dialog', { name: 'Links' })
  await links.getByRole('button', { name: 'Make a walk-in link' }).click()
  const walkIn = await links.getByLabel('Walk-in link to Sea-word glossary', { exact: true }).inputValue()
  await teacher.keyboard.press('Escape')

  const guest = await (await browser.newContext({ baseURL: url() })).newPage()
  await guest.goto(new URL(walkIn).pathname)
  await guest.getByLabel('Your name').fill('Pip C')
  await guest.getByRole('button', { name: 'Come in' }).click()
  const answer = guest.getByRole('textbox', { name: /^Answer 3/ })
  await answer.fill('painter')
  await expect(guest.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()

  await teacher.reload()
  await teacher.getByRole('button', { name: 'Say who of the class it is' }).click()
  const guests = teacher.getByRole('dialog', { name: 'Guests, and who they are' })
  await expect(guests.getByRole('combobox', { name: 'Who Pip C is' })).toHaveValue(/./)
  await expect(guests.getByText('the same name, shortened: in place of their untouched copy')).toBeVisible()
  await guests.getByRole('button', { name: 'Pip C is Pip Calloway' }).click()
  await expect(guests.getByText(/^their own now, since/)).toBeVisible()
  await guests.getByRole('button', { name: 'Pip C is not Pip Calloway' }).click()
  await guests.getByRole('button', { name: 'Pip C is Pip Calloway' }).click()
  await expect(guests.getByText(/^their own now, since/)).toBeVisible()
  await teacher.keyboard.press('Escape')
  await expect(teacher.getByText('A guest has written something')).toHaveCount(0)

  // The student has what the guest wrote; the guest's window goes on in it.
  const pip = await windowOf(browser, 'Pip Calloway')
  await pip.getByRole('link', { name: /Words for guests/ }).click()
  const same = pip.getByRole('textbox', { name: /^Answer 3/ })
  await expect(same).toHaveValue('painter')
  await same.fill('painter, a rope')
  await expect(pip.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()
  await expect(answer).toHaveValue('painter, a rope')
  await answer.press('End')
  await answer.pressSequentially(' of a boat')
  await expect(same).toHaveValue('painter, a rope of a boat')

  await teacher.getByRole('button', { name: 'More', exact: true }).click()
  await teacher.getByRole('button', { name: 'Guests, and who they are' }).click()
  await guests.getByRole('button', { name: 'Pip C is not Pip Calloway' }).click()
  await expect(guests.getByText('The student has worked in it since: it stays theirs.')).toBeVisible()
})
