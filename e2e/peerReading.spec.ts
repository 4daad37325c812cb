import { expect } from '@playwright/test'
import { demoNames, test, windowOf } from './support/people.js'

test('a peer reader reads, comments and ticks it off; the writer sees what is said, and not by whom', async ({
  browser,
}) => {
  // Whom somebody reads is another one each time the demo is made, also one who cannot sign in.
  const names = await demoNames(browser)
  const writerOf = (title: string) => {
    const [last, first] = title.split(' – ')[0]!.split(', ')
    return first ? `${first} ${last}` : last!
  }
  const reading = async (name: string) => {
    const reader = await windowOf(browser, name)
    const section = reader.locator('section', { has: reader.getByRole('heading', { name: 'Peer reading' }) })
    const rows = section.getByRole('link', { name: /Knots before the regatta/ })
    await expect(rows.first()).toBeVisible()
    const titles = await rows.locator('strong').allTextContents()
    const title = titles.find((one) => names.includes(writerOf(one)))
    return title === undefined
      ? null
      : { first: name.split(' ')[0]!, reader, section, title, row: section.getByRole('link', { name: title }).first() }
  }
  const found = (await reading('Zofia Dąbrowska')) ?? (await reading('Noa Kamakau')) ?? (await reading('Giulia Rossi'))
  const { first, reader, section, title, row } = found!
  await expect(row).toContainText('to read')
  await row.click()
  const asked = reader.getByRole('region', { name: 'Peer reading' })
  await expect(asked).toContainText('Could you tie the knot from these words alone?')
  await expect(asked).toContainText('The writer does not see your name')
  await reader.getByRole('button', { name: 'Comment', exact: true }).first().click()
  await reader.getByLabel('Comment on the whole copy').fill('I could tie it, but for the second turn.')
  await reader.keyboard.press('Control+Enter')
  await expect(reader.locator('.said', { hasText: 'second turn' })).toContainText('You')
  await asked.getByRole('button', { name: 'I have read it' }).click()
  await expect(asked).toContainText('You said that you have read it')
  const address = reader.url()

  const writer = await windowOf(browser, writerOf(title))
  await writer.goto(address)
  const said = writer.locator('.said', { hasText: 'second turn' })
  await expect(said).toContainText('Peer reader 1')
  await expect(writer.getByText('Peer readers: a reader: ✓ read, 1 comment')).toBeVisible()
  await expect(writer.getByText('A peer reader').first()).toBeAttached()
  await expect(writer.getByText(first)).toHaveCount(0)

  await reader.goto('/')
  await expect(section.getByRole('link', { name: title }).first()).toContainText('✓ read')
  await expect(section.getByRole('link', { name: title }).first()).toContainText('1 comment of yours')
})
