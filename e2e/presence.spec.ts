import { type Locator, type Page, expect } from '@playwright/test'
import { submit, test, windowOf } from './support/people.js'

const middle = async (element: Locator) => {
  const box = (await element.boundingBox())!
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
}

/** Zofia opens the copy that she shares with her group; its address. */
async function openFrontPage(page: Page): Promise<string> {
  await page
    .getByRole('link', { name: /Harbour front page/ })
    .first()
    .click()
  await expect(page.getByText('All saved')).toBeVisible()
  return page.url()
}

/** Somebody else who holds it. */
async function mateIn(page: Page, address: string): Promise<string> {
  const copy = (await (await page.request.get(`/api${new URL(address).pathname}`)).json()) as { holders: string[] }
  return copy.holders.find((name) => name !== 'Zofia Dąbrowska')!
}

test('those who have a copy open see who else is there, and where each of them writes', async ({ browser }) => {
  const one = await windowOf(browser, 'Zofia Dąbrowska')
  // Carets are where they are at once, and do not glide there while they are measured.
  await one.emulateMedia({ reducedMotion: 'reduce' })
  const address = await openFrontPage(one)
  await expect(one.getByRole('list', { name: 'Who is here' })).toHaveCount(0)
  const mate = await mateIn(one, address)
  const other = await windowOf(browser, mate)
  await other.goto(address)

  const [seenByOne, seenByOther] = [one, other].map((page) => page.getByRole('list', { name: 'Who is here' }))
  await expect(seenByOne!.getByRole('listitem')).toHaveCount(2)
  await expect(seenByOther!.getByTitle('Zofia Dąbrowska')).toBeVisible()
  await expect(seenByOther!.getByTitle(`${mate}, you`)).toBeVisible()

  // In a line that both write in: a caret with a name, where it stands.
  const [line, same] = [one, other].map((page) => page.getByLabel(/Name of your newspaper/))
  await same!.fill('The Gull')
  await same!.press('End')
  const caret = one.locator('.other-caret')
  await expect(caret).toHaveCount(1)
  const field = (await line!.boundingBox())!
  await expect.poll(async () => (await caret.boundingBox())?.height ?? 0).toBeGreaterThan(10)
  // Where one is, is said a few times a second: at first, the caret stood before all letters.
  await expect.poll(async () => (await middle(caret)).x).toBeGreaterThan(field.x + 40)
  const atEnd = await middle(caret)
  expect(atEnd.y).toBeGreaterThan(field.y)
  expect(atEnd.y).toBeLessThan(field.y + field.height)
  // Where the last letter ends: as far from the beginning as these letters are wide.
  const width = await line!.evaluate((input: HTMLInputElement) => {
    const span = document.createElement('span')
    Object.assign(span.style, { position: 'absolute', whiteSpace: 'pre' })
    for (const name of ['fontFamily', 'fontSize', 'fontWeight', 'fontVariantNumeric'] as const)
      span.style[name] = getComputedStyle(input)[name]
    span.textContent = input.value
    document.body.append(span)
    const { width } = span.getBoundingClientRect()
    span.remove()
    return width
  })
  await same!.press('Home')
  await expect.poll(async () => Math.abs(atEnd.x - (await middle(caret)).x - width)).toBeLessThan(4)

  // In a passage: beside the letter it stands after, also while what is before it grows.
  const passage = other.locator('.answer-passage[contenteditable=true]').first()
  await passage.click()
  await other.keyboard.type('The crane lifted ice')
  await expect(one.getByText('The crane lifted ice')).toBeVisible()
  const place = one.locator('.answer', { hasText: 'The crane lifted ice' })
  await expect
    .poll(async () => {
      const [box, mark] = [await place.boundingBox(), await caret.boundingBox()]
      return !!box && !!mark && mark.y >= box.y - 2 && mark.y + mark.height <= box.y + box.height + 2
    })
    .toBe(true)

  // Who leaves is gone, with their caret.
  await other.close()
  await expect(seenByOne!).toHaveCount(0)
  await expect(caret).toHaveCount(0)
})

test('one of a group submits for all: another is told wherever they are on the page, and says “not yet”', async ({
  browser,
}) => {
  const one = await windowOf(browser, 'Zofia Dąbrowska')
  const address = await openFrontPage(one)
  const mate = await mateIn(one, address)
  const other = await windowOf(browser, mate)
  await other.goto(address)
  await expect(other.getByText('All saved')).toBeVisible()
  await other.evaluate(() => window.scrollTo(0, document.body.scrollHeight))
  await submit(one)
  await expect(one.getByText('You have submitted this copy for all of you.')).toBeVisible()
  await expect(other.getByText('Zofia Dąbrowska has submitted this copy for all of you.')).toBeInViewport()
  await other.getByRole('button', { name: 'Not yet: go on writing' }).click()
  await expect(one.getByText(`${mate} said “not yet”: this copy is not submitted.`)).toBeInViewport()
  await expect(one.getByRole('button', { name: 'Submit' }).first()).toBeVisible()
  await expect(other.locator('.answer-passage[contenteditable=true]').first()).toBeVisible()
})
