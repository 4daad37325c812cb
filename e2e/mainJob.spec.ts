import { expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

const ROWS = [
  'Surname\tGiven name\tMail',
  'Abara\tChidi\tchidi.abara@fennickquay.example',
  'Dąbrowska\tZofia\tzofia.dabrowska@fennickquay',
  'Joubert\tThéo\t',
  'חדד\tנועם\tnoam.levi@fennickquay.example',
  'Joubert\tAnouk\tchidi.abara@fennickquay.example',
].join('\n')

test('from a pasted roster to submitted copies', async ({ browser }) => {
  test.setTimeout(120_000)
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')

  await test.step('a class', async () => {
    await teacher.getByRole('button', { name: 'New class' }).click()
    await teacher.getByLabel('Name, as the school says it').fill('8 Gannet')
    await teacher.getByLabel('Subject').fill('Geography')
    await teacher.getByLabel('plum').check()
    await teacher.getByRole('button', { name: 'Make the class' }).click()
    await expect(teacher.getByRole('heading', { name: 'Bring in a list' })).toBeVisible()
  })

  await test.step('paste, see what was understood, correct in place, save', async () => {
    await teacher.getByLabel('Paste the rows from your spreadsheet').fill(ROWS)
    await expect(teacher.getByText('3 rows have to be put right first.')).toBeVisible()
    await expect(teacher.getByRole('button', { name: 'Save 5 rows' })).toBeDisabled()
    await expect(teacher.getByText('This is not an e-mail address.')).toBeVisible()
    await teacher.getByLabel('E-mail, row 2').fill('zofia.dabrowska@fennickquay.example')
    await teacher.getByLabel('Only rows in doubt').check()
    await expect(teacher.getByLabel('Last name, row 2')).toHaveCount(0)
    await teacher.getByRole('button', { name: 'Leave out row 5' }).click()
    await teacher.getByRole('button', { name: 'Save 4 rows' }).click()
    await expect(teacher.getByRole('button', { name: 'E-mail of Théo Joubert: none yet. Change' })).toBeVisible()
    await expect(teacher.getByText('Geography, ', { exact: false }).first()).toContainText('4 students')
  })

  await test.step('a worksheet with the four answer spaces', async () => {
    await teacher.getByRole('link', { name: 'Worksheets' }).click()
    await teacher.getByRole('button', { name: 'New worksheet' }).click()
    await teacher.getByLabel('Title of the worksheet').fill('Slack water')
    const page = teacher.getByRole('textbox', { name: 'Worksheet', exact: true })
    await page.click()
    const palette = teacher.getByRole('navigation', { name: 'What to put on the page' })
    await palette.getByRole('button', { name: 'Heading', exact: true }).click()
    await teacher.keyboard.type('Slack water')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.type('When does the tide ')
    await teacher.keyboard.press('Control+b')
    await teacher.keyboard.type('stand')
    await teacher.keyboard.press('Control+b')
    await teacher.keyboard.type('?')
    for (const kind of ['Line', 'Passage', 'Choice', 'Number']) {
      await palette.getByRole('button', { name: new RegExp(`^${kind} Alt`) }).click()
      await expect(teacher.getByRole('heading', { name: new RegExp(`· ${kind}`) })).toBeVisible()
    }
    await teacher.getByLabel('Unit, printed after it').fill('min')
    await palette.getByRole('button', { name: 'Block up' }).click()
    await expect(teacher.getByRole('heading', { name: '3 · Number' })).toBeVisible()
    await expect(teacher.getByText(/draft kept/)).toBeVisible()
    await teacher.getByRole('button', { name: 'Keep edition 1' }).click()
    await expect(teacher.getByRole('button', { name: 'Edition 1 is kept' })).toBeVisible()
    await teacher.reload()
    await expect(teacher.locator('.sheet strong')).toHaveText('stand')
    await expect(teacher.locator('.space-node')).toHaveCount(4)
  })

  await test.step('the slip and its proof', async () => {
    await teacher.getByRole('link', { name: 'New handout' }).click()
    await teacher.getByRole('button', { name: /^Worksheet:/ }).click()
    await teacher.getByRole('button', { name: /^Slack water edition 1/ }).click()
    const proof = teacher.getByRole('region', { name: 'Proof' })
    await expect(proof.getByText('Joubert, Théo – Slack water')).toBeVisible()
    await expect(proof.getByText('no e-mail: cannot sign in yet')).toBeVisible()
    const name = teacher.getByRole('textbox', { name: 'Name of the copies' })
    await name.click()
    await teacher.keyboard.press('Control+a')
    await teacher.keyboard.type('Tide')
    await expect(proof.getByText('The pattern gives every copy the same name')).toBeVisible()
    await expect(proof.getByText('Tide (4)')).toBeVisible()
    await teacher.keyboard.type(' of ')
    await teacher.getByRole('button', { name: 'Put in' }).click()
    await teacher.getByRole('button', { name: 'First name' }).click()
    await expect(proof.getByText('Tide of Zofia')).toBeVisible()
    await expect(name.locator('.token')).toHaveText('First name')
    await teacher.getByRole('button', { name: /^To whom:/ }).click()
    await teacher.getByRole('checkbox', { name: 'Joubert, Théo' }).uncheck()
    await teacher.keyboard.press('Escape')
    await expect(teacher.getByRole('button', { name: 'Hand out 3 copies' })).toBeVisible()
    await expect(teacher.getByText('slip kept')).toBeVisible()
  })

  await test.step('hand out: the board shows the copies', async () => {
    await teacher.getByRole('button', { name: 'Hand out 3 copies' }).dblclick()
    await expect(teacher.getByRole('heading', { name: 'Slack water' })).toBeVisible()
    await expect(teacher.getByRole('button', { name: '3 not opened' })).toBeVisible()
    await expect(teacher.getByRole('button', { name: '1 left out' })).toBeVisible()
    await expect(teacher.locator('tbody tr')).toHaveCount(3)
  })

  const student = await windowOf(browser, 'Zofia Dąbrowska')
  await test.step('the student opens the copy and writes; the teacher sees it grow', async () => {
    await student.getByRole('link', { name: /Slack water/ }).click()
    await expect(student.getByText('All saved')).toBeVisible()
    await expect(teacher.getByRole('button', { name: '1 opened' })).toBeVisible()
    await teacher.getByRole('button', { name: /Dąbrowska, Zofia/ }).click()
    const drawer = teacher.getByRole('complementary', { name: 'Copy of Zofia Dąbrowska' })
    await student.getByLabel(/^Answer 1/).fill('twice a day')
    await expect(drawer.getByText('twice a day')).toBeVisible()
    await student.getByLabel(/^Answer 2/).click()
    await student.keyboard.type('Between ')
    await student.keyboard.press('Control+b')
    await student.keyboard.type('high')
    await student.keyboard.press('Control+b')
    await student.keyboard.type(' and low water.')
    await expect(drawer.locator('strong', { hasText: 'high' })).toBeVisible()
    await student.getByLabel(/^Answer 3/).fill('ten')
    await student.getByLabel('Second option').check()
    await expect(student.getByText('This does not read as a number yet.')).toBeVisible()
    await student.getByLabel(/^Answer 3/).fill('20')
    await expect(student.getByText('4 of 4 answered')).toBeVisible()
    await expect(student.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()
    const ink = await student.getByLabel(/^Answer 1/).evaluate((element) => getComputedStyle(element).color)
    expect(ink).toBe('rgb(122, 34, 104)')
    await expect(teacher.getByRole('button', { name: '1 working' })).toBeVisible()
    await expect(drawer.getByText('4 of 4 · working')).toBeVisible()
  })

  await test.step('what was written is there after the page is loaded again', async () => {
    await student.reload()
    await expect(student.getByText('All saved')).toBeVisible()
    await expect(student.getByLabel(/^Answer 1/)).toHaveValue('twice a day')
    await expect(student.getByLabel(/^Answer 2/)).toHaveText('Between high and low water.')
    await expect(student.getByLabel('Second option')).toBeChecked()
  })

  await test.step('submit, stand still, take back', async () => {
    await student.getByRole('button', { name: 'Submit' }).first().click()
    await expect(student.getByText('It stands still now; you can take it back')).toBeVisible()
    await expect(student.getByRole('textbox')).toHaveCount(0)
    await expect(teacher.getByRole('button', { name: '1 submitted' })).toBeVisible()
    await student.getByRole('button', { name: 'Take back' }).first().click()
    await expect(student.getByRole('textbox', { name: /^Answer 1/ })).toBeVisible()
    await expect(teacher.getByRole('button', { name: '1 taken back' })).toBeVisible()
    await student.getByRole('button', { name: 'Submit' }).first().click()
    await expect(teacher.getByRole('button', { name: '1 submitted' })).toBeVisible()
  })

  await test.step('arrow keys flip to the next copy, and back', async () => {
    await teacher.keyboard.press('ArrowUp')
    await expect(teacher.getByRole('complementary', { name: 'Copy of Chidi Abara' })).toBeVisible()
    await teacher.keyboard.press('ArrowDown')
    await teacher.keyboard.press('ArrowDown')
    await expect(teacher.getByRole('complementary', { name: /נועם/ })).toBeVisible()
    await teacher.keyboard.press('Escape')
    await expect(teacher.getByRole('complementary')).toHaveCount(0)
  })

  await test.step('handing out again does nothing; mending the slip changes the copies there are', async () => {
    await teacher.getByRole('link', { name: 'Edit the slip' }).click()
    await expect(teacher.getByText('All of this is handed out.')).toBeVisible()
    await expect(teacher.getByRole('button', { name: 'Hand out 0 copies' })).toBeDisabled()
    await teacher.getByRole('button', { name: /^To whom:/ }).click()
    await teacher.getByRole('button', { name: 'All', exact: true }).click()
    await teacher.keyboard.press('Escape')
    await teacher.getByRole('button', { name: 'Hand out 1 copy' }).click()
    await expect(teacher.locator('tbody tr')).toHaveCount(4)
    await expect(teacher.getByRole('button', { name: '1 submitted' })).toBeVisible()
  })
})
