import { type HandoutItem, type PlanFacts, type Statement, plainItem, plainPeers, plainStatement } from '@gavrin/core'
import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { type ReactNode, useState } from 'react'
import { MoreLines } from '../src/composer/MoreLines'
import { RecipeMenu } from '../src/composer/RecipeMenu'
import { SeldomLines } from '../src/composer/SeldomLines'
import { WhenLines } from '../src/composer/WhenLines'
import { AudienceBlank } from '../src/composer/blanks/AudienceBlank'
import { MatchRules } from '../src/composer/blanks/MatchRules'
import { ClassmatesBlank, HoldersBlank, PeersBlank, PeersOfCopy } from '../src/composer/blanks/PermissionBlanks'
import { WorksheetMenu } from '../src/composer/blanks/WorksheetBlank'
import type { BlankProps, SlipFacts, WholeProps } from '../src/composer/blanks/slip'
import { planFactsOf } from './support/samples'
import { refusal, serveWith, surroundings } from './support/server'

afterEach(cleanup)

const WORKSHEETS: PlanFacts['worksheets'] = [
  { id: 'w1', title: 'Reading a tide table', editions: [edition(1), edition(2)] },
  { id: 'w2', title: 'Sea-word glossary', editions: [{ ...edition(1), memberSpaces: 2 }] },
  { id: 'w3', title: 'Not kept yet', editions: [] },
  { id: 'w9', title: 'Blank page', editions: [edition(1)], builtIn: 'blank page' },
]
function edition(number: number) {
  return { number, answerSpaces: 1, points: 0, memberSpaces: 0, groupSpaces: 0 }
}
const facts = (more: Partial<Omit<PlanFacts, 'worksheets'>> = {}): SlipFacts => ({
  worksheets: WORKSHEETS,
  parts: [
    {
      id: null,
      classId: 'c1',
      number: 12,
      handedOutAt: null,
      existing: { copies: [], notices: [] },
      facts: planFactsOf({
        groupSets: [
          { id: 's1', name: 'Crews', groups: [{ id: 'g1', name: 'Crane', personIds: ['p1', 'p2'] }] },
          { id: 's2', name: 'Boats', groups: [] },
        ],
        ...more,
      }),
    },
  ],
})

/** Shows blanks of an item that keep what is set in them. */
function item(
  blanks: (props: BlankProps) => ReactNode,
  { of = facts(), given = {} }: { of?: SlipFacts; given?: Partial<HandoutItem> } = {},
) {
  const now: { item: HandoutItem } = { item: { ...plainItem('i', 'w1', 2), ...given } }
  function Held() {
    const [held, setHeld] = useState(now.item)
    now.item = held
    return blanks({ item: held, facts: of, alter: (alteration) => setHeld((last) => ({ ...last, ...alteration })) })
  }
  const { Around } = surroundings()
  render(<Held />, { wrapper: Around })
  return () => now.item
}

/** The same for what concerns the whole handout. */
function whole(
  lines: (props: WholeProps) => ReactNode,
  { of = facts(), given = {} }: { of?: SlipFacts; given?: Partial<Statement> } = {},
) {
  const now = {
    statement: {
      ...plainStatement([plainItem('i', 'w1', 2)], [{ classId: 'c1', opensAt: null, dueAt: null }]),
      ...given,
    },
  }
  function Held() {
    const [held, setHeld] = useState<Statement>(now.statement)
    now.statement = held
    return lines({ statement: held, facts: of, change: setHeld })
  }
  const { Around } = surroundings()
  render(<Held />, { wrapper: Around })
  return () => now.statement
}

const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }))
const fill = async (label: RegExp, choice: RegExp) => {
  press(label)
  fireEvent.click(await screen.findByRole('button', { name: choice }))
}
const tick = (name: string) => fireEvent.click(screen.getByRole('checkbox', { name }))

describe('to whom', () => {
  test('some are unticked and ticked; all of them together are "all" again', () => {
    const now = item((props) => <AudienceBlank {...props} />)
    press('To whom: all of 8 Heron')
    tick('Rossi, Giulia')
    expect(now().audience).toEqual({ kind: 'some', personIds: ['p1', 'p3'] })
    expect(screen.getByRole('button', { name: 'To whom: 2 of 8 Heron' })).toBeTruthy()
    tick('Abara, Chidi')
    expect(screen.getByRole('button', { name: 'To whom: Suryani' })).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Nobody' }))
    expect(screen.getByText('0 of 3 students')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'All' }))
    expect(now().audience).toEqual({ kind: 'all' })
  })

  test('turning from one kind to another keeps who is meant', () => {
    const now = item((props) => <AudienceBlank {...props} />)
    press('To whom: all of 8 Heron')
    tick('Suryani')
    press('all but')
    expect(now().audience).toEqual({ kind: 'all but', personIds: ['p3'] })
    expect(screen.getByRole('button', { name: 'To whom: all but Suryani' })).toBeTruthy()
    expect(screen.getByText('Ticked: who is left out.')).toBeTruthy()
    press('some')
    expect(now().audience).toEqual({ kind: 'some', personIds: ['p1', 'p2'] })
    fireEvent.change(screen.getByLabelText('Find a student'), { target: { value: 'giu' } })
    expect(screen.getAllByRole('checkbox')).toHaveLength(1)
  })

  test('by what stands in a column, or by groups of a set', () => {
    const now = item((props) => <AudienceBlank {...props} />)
    press('To whom: all of 8 Heron')
    press('by a column')
    tick('Gulls')
    expect(now().audience).toMatchObject({ kind: 'column', column: { id: 'k1' }, values: ['Gulls'] })
    expect(screen.getByRole('button', { name: 'To whom: those in Gulls (Reading band)' })).toBeTruthy()
    expect(screen.getByText('2 of 3 students')).toBeTruthy()
    press('by groups')
    tick('Crane')
    expect(screen.getByRole('button', { name: 'To whom: Crane' })).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Group set'), { target: { value: 's2' } })
    expect(now().audience).toMatchObject({ kind: 'groups', set: { id: 's2' }, groups: [] })
    expect(screen.getByText('Nothing stands there yet.')).toBeTruthy()
  })

  test('what a class has not is not offered', () => {
    item((props) => <AudienceBlank {...props} />, { of: facts({ columns: [], groupSets: [] }) })
    press('To whom: all of 8 Heron')
    expect(
      within(screen.getByRole('group', { name: 'Who' }))
        .getAllByRole('button')
        .map(({ textContent }) => textContent),
    ).toEqual(['all', 'some', 'all but'])
  })
})

describe('what may be done', () => {
  test('by holders and classmates; what is only read cannot be edited', async () => {
    const now = item((props) => (
      <>
        <HoldersBlank {...props} />
        <ClassmatesBlank {...props} />
      </>
    ))
    await fill(/^They may: edit/, /^comment/)
    await fill(/^Classmates may: not see it/, /^view it/)
    expect(now()).toMatchObject({ holdersMay: 'comment', classmatesMay: 'view' })
    cleanup()
    item((props) => <HoldersBlank {...props} />, { given: { way: 'to read', holdersMay: 'view' } })
    press('They may: only view')
    expect(screen.getAllByRole('button').map(({ textContent }) => textContent.split(/(?<=comment|view)/)[0])).toEqual([
      'only view',
      'comment',
      'only view',
    ])
  })

  test('peer readers: how many, what they may, others by another draw, one copy by hand', async () => {
    const now = item((props) => (
      <>
        <PeersBlank {...props} />
        <PeersOfCopy {...props} slotKey="i:each:p1" holders={['p1']} readers={['p2']} />
      </>
    ))
    await fill(/^Peer readers: no peer readers/, /^1 for each copy/)
    expect(screen.getByRole('button', { name: 'Peer readers: 1 peer reader' })).toBeTruthy()
    await fill(/^Peer readers may: comment/, /^only view/)
    expect(now().peers).toEqual(plainPeers(1, 'view'))
    press('Its peer readers')
    // Nobody reads their own.
    expect(screen.queryByRole('checkbox', { name: 'Abara, Chidi' })).toBeNull()
    tick('Suryani')
    expect(now().peers!.chosen).toEqual({ 'i:each:p1': ['p2', 'p3'] })
    fireEvent.click(screen.getByRole('button', { name: 'as the program chooses' }))
    expect(now().peers!.chosen).toEqual({})
    await fill(/^Peer readers: 1 peer reader/, /^Choose others/)
    expect(now().peers!.seed).toBe(2)
    fireEvent.click(screen.getByRole('button', { name: /^no peer readers/ }))
    expect(now().peers).toBeNull()
  })
})

describe('which worksheet', () => {
  test('for some another one, by a column or by groups, and the rule away again', async () => {
    const now = item((props) => <MatchRules {...props} />)
    press('Different worksheets for some')
    await fill(/^Worksheet for Gulls:/, /^Sea-word glossary/)
    expect(now().match!.rules).toEqual([{ is: 'Gulls', worksheetId: 'w2', edition: 1 }])
    // One without an edition cannot be given.
    press(/^Worksheet for Terns:/)
    fireEvent.click(screen.getAllByRole('button', { name: /^Not kept yet/ })[1]!)
    expect(now().match!.rules).toHaveLength(1)
    press('No rule for Gulls')
    expect(now().match!.rules).toEqual([])
    fireEvent.change(screen.getByRole('combobox'), { target: { value: 'group s1' } })
    expect(now().match).toMatchObject({ by: 'group', of: { id: 's1', name: 'Crews' } })
    expect(screen.getByRole('rowheader', { name: 'Crane' })).toBeTruthy()
    press('Leave them out')
    expect(screen.getByText(/none: they are left out/)).toBeTruthy()
    press('The same for all')
    expect(now().match).toBeNull()
  })

  test('a class without columns and groups is offered no rules', () => {
    item((props) => <MatchRules {...props} />, { of: facts({ columns: [], groupSets: [] }) })
    expect(screen.queryByRole('button')).toBeNull()
  })

  test('the list says the newest edition and its places, is searched when long, and leads to a first one', () => {
    const many = Array.from({ length: 7 }, (_, at) => ({ id: `m${at}`, title: `Chart ${at}`, editions: [edition(1)] }))
    const chosen: unknown[] = []
    const { Around } = surroundings()
    const menu = (worksheets: PlanFacts['worksheets']) =>
      render(<WorksheetMenu worksheets={worksheets} chosenId={null} choose={(...all) => chosen.push(all)} />, {
        wrapper: Around,
      })
    menu([...WORKSHEETS, ...many])
    expect(screen.getByText('edition 2, 1 answer space')).toBeTruthy()
    expect(screen.getByText('edition 1, 1 answer space, a part for each member')).toBeTruthy()
    expect(screen.getByText('no edition kept yet')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Find a worksheet'), { target: { value: 'chart 3' } })
    fireEvent.click(screen.getByRole('button', { name: /^Chart 3/ }))
    fireEvent.click(screen.getByRole('button', { name: /^a blank page/ }))
    expect(chosen).toEqual([
      ['m3', 1],
      ['w9', 1],
    ])
    cleanup()
    menu([])
    expect(screen.getByRole('link', { name: 'Write one' }).getAttribute('href')).toBe('/worksheets')
  })
})

describe('when', () => {
  const lines = (of = facts(), given: Partial<Statement> = {}) => {
    const asked: string[] = []
    const now = whole(
      (props) => (
        <>
          <WhenLines {...props} removeClass={(id) => asked.push(`remove ${id}`)} />
          <SeldomLines
            {...props}
            classes={[
              { id: 'c1', name: '8 Heron', subject: 'Geography' },
              { id: 'c2', name: '8 Tern', subject: 'Geography' },
            ]}
            addClass={(id) => asked.push(`add ${id}`)}
          />
        </>
      ),
      { of, given },
    )
    return { now, asked }
  }

  test('what holds after the due time is one of four', async () => {
    const { now } = lines()
    for (const [choice, pensDownAtDue, lateWork] of [
      [/^pens are down and nothing/, true, false],
      [/^nothing is submitted/, false, false],
      [/^pens are down nobody/, true, true],
      [/^late work is taken/, false, true],
    ] as const) {
      await fill(/^After the due time:/, choice)
      expect(now()).toMatchObject({ pensDownAtDue, lateWork })
    }
    await fill(/^Who joins later: gets theirs/, /^waits/)
    expect(now().joiners).toBe('wait')
  })

  test('another class is asked for; one that was not handed out to is taken out again', async () => {
    const { asked } = lines()
    await fill(/^Another class/, /^8 Tern/)
    expect(asked).toEqual(['add c2'])
    cleanup()
    const [first] = facts().parts
    const second = { ...first!, classId: 'c2', facts: { ...first!.facts, classId: 'c2', className: '8 Tern' } }
    const of = { worksheets: WORKSHEETS, parts: [first!, second] }
    const times = [
      { classId: 'c1', opensAt: null, dueAt: null },
      { classId: 'c2', opensAt: null, dueAt: null },
    ]
    const both = lines(of, { classes: times })
    expect(screen.getByRole('button', { name: /^Due for 8 Tern/ })).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Another class' })).toBeNull()
    press('Not for 8 Tern')
    expect(both.asked).toEqual(['remove c2'])
    cleanup()
    lines({ ...of, parts: [first!, { ...second, handedOutAt: 1 }] }, { classes: times })
    expect(screen.queryByRole('button', { name: 'Not for 8 Tern' })).toBeNull()
  })
})

describe('what else', () => {
  const lines = (given: Partial<Statement> = {}, of = facts()) =>
    whole(
      (props) => (
        <>
          <MoreLines {...props} />
          <SeldomLines {...props} classes={[]} addClass={() => undefined} />
        </>
      ),
      { of, given },
    )

  test('a cover note begins with their name; another way of sending keeps what is written', async () => {
    const now = lines()
    await fill(/^Cover note: none/, /^by mail/)
    expect(JSON.stringify(now().cover)).toContain('"token":"first"')
    const { text } = now().cover!
    tick('The staff of the class get every one too')
    await fill(/^Cover note: by mail/, /^on their desk/)
    expect(now().cover).toEqual({ by: 'here', staffCopied: true, text })
    await fill(/^Cover note: on their desk/, /^none/)
    expect(now().cover).toBeNull()
    expect(screen.queryByRole('textbox', { name: 'Cover note' })).toBeNull()
  })

  test('points are kept within bounds; a scale has two steps at least', async () => {
    const now = lines()
    await fill(/^Marking: marked by a remark/, /^marked out of a number/)
    const points = screen.getByLabelText('Points')
    fireEvent.change(points, { target: { value: '12.345' } })
    expect(now().marking).toEqual({ kind: 'points', points: 12.35 })
    fireEvent.change(points, { target: { value: '-3' } })
    expect(now().marking).toEqual({ kind: 'points', points: 12.35 })
    fireEvent.click(screen.getByRole('button', { name: 'marked by a scale' }))
    const steps = screen.getByLabelText('Steps of the scale, best first')
    fireEvent.change(steps, { target: { value: 'High water, Half tide , Half tide, Low water' } })
    expect(now().marking).toEqual({ kind: 'scale', steps: ['High water', 'Half tide', 'Low water'] })
    fireEvent.change(steps, { target: { value: 'Only one' } })
    expect(steps.className).toContain('is-invalid')
    expect(now().marking).toMatchObject({ steps: ['High water', 'Half tide', 'Low water'] })
    expect(screen.getByRole('button', { name: 'Marking: marked High water to Low water' })).toBeTruthy()
  })

  test('a rubric: rows, their sum, and marking out of it', () => {
    const now = lines({ marking: { kind: 'points', points: 10 } })
    press('Add a rubric')
    fireEvent.change(screen.getByLabelText('Row 1 of the rubric'), { target: { value: 'Reads the table' } })
    fireEvent.change(screen.getByLabelText('Points of row 1'), { target: { value: '4' } })
    press('Add a row')
    fireEvent.change(screen.getByLabelText('Points of row 2'), { target: { value: '-2' } })
    expect(now().rubric.map(({ name, points }) => [name, points])).toEqual([
      ['Reads the table', 4],
      ['', 0],
    ])
    press('Mark out of 4')
    expect(now().marking).toEqual({ kind: 'points', points: 4 })
    expect(screen.queryByRole('button', { name: /^Mark out of/ })).toBeNull()
    press('Take row 2 out')
    press('Take row 1 out')
    expect(now().rubric).toEqual([])
  })

  test('a scale is reached by per cent, or given by hand', () => {
    const now = lines({ marking: { kind: 'scale', steps: ['Sure', 'Fair', 'Not yet'] } })
    fireEvent.click(screen.getByRole('button', { name: /^Marking:/ }))
    const from = screen.getByLabelText('From how many per cent each is reached')
    fireEvent.change(from, { target: { value: '80, 90, 0' } })
    expect(from.className).toContain('is-invalid')
    expect(now().marking).toEqual({ kind: 'scale', steps: ['Sure', 'Fair', 'Not yet'] })
    fireEvent.change(from, { target: { value: '80 50 0' } })
    expect(now().marking).toMatchObject({ from: [80, 50, 0] })
    fireEvent.change(from, { target: { value: '' } })
    expect(now().marking).toEqual({ kind: 'scale', steps: ['Sure', 'Fair', 'Not yet'] })
  })

  test('the levels of a row: none above its points, no two worth the same', () => {
    const now = lines({ marking: { kind: 'spaces' }, rubric: [{ id: 'r', name: 'Reasons', points: 2 }] })
    press('Say what its levels are')
    press('Add a level')
    expect(now().rubric[0]!.levels!.map(({ points }) => points)).toEqual([2, 1])
    fireEvent.change(screen.getByLabelText('Points of level 2 of Reasons'), { target: { value: '2' } })
    fireEvent.change(screen.getByLabelText('Level 2 of Reasons'), { target: { value: 'Says that it is so' } })
    expect(now().rubric[0]!.levels![1]).toMatchObject({ points: 1, name: 'Says that it is so' })
    fireEvent.change(screen.getByLabelText('Points of row 1'), { target: { value: '1' } })
    expect(now().rubric[0]!.levels!.map(({ points }) => points)).toEqual([1])
    press('Take level 1 of row 1 out')
    expect(now().rubric[0]!.levels).toEqual([])
  })

  test('late work loses so much a day, or nothing', () => {
    const now = lines({ marking: { kind: 'points', points: 10 } })
    press('Late work loses points')
    fireEvent.change(screen.getByLabelText('Per cent that late work loses a day'), { target: { value: '250' } })
    fireEvent.change(screen.getByLabelText('Per cent that it keeps in any case'), { target: { value: '30' } })
    expect(now().lateDeduction).toEqual({ perDay: 100, atLeast: 30 })
    press('It loses nothing')
    expect(now().lateDeduction).toBeNull()
  })

  test('what is ungraded has no rubric; units are those of the class', async () => {
    const now = lines()
    expect(screen.queryByRole('button', { name: 'Add a rubric' })).toBeNull()
    await fill(/^Unit: no unit/, /^Tides/)
    expect(now().unit).toEqual({ id: 'u1', name: 'Tides' })
    cleanup()
    lines({}, facts({ units: [] }))
    press('Unit: no unit')
    expect(await screen.findByText(/^This class has no units yet/)).toBeTruthy()
  })

  test('instructions are asked for, and stand open where there are some', () => {
    lines()
    expect(screen.queryByRole('textbox', { name: 'Instructions' })).toBeNull()
    press('Add instructions')
    expect(screen.getByRole('textbox', { name: 'Instructions' })).toBeTruthy()
  })
})

test('recipes: kept under a name, used, thrown away; a refusal is said and what was typed stays', async () => {
  const statement = plainStatement([plainItem('i', 'w1', 2)], [{ classId: 'c1', opensAt: null, dueAt: null }])
  const recipe = { id: 'r1', name: 'Group poster', statement }
  let refuse = true
  let list = [recipe]
  const asked = serveWith(({ method }) => {
    if (method === 'DELETE') list = []
    if (method === 'POST')
      return refuse
        ? refusal(409, 'You have a recipe of this name already.')
        : { body: [...list, { ...recipe, id: 'r2', name: 'Fresh' }] }
    return method === 'DELETE' ? { status: 204 } : { body: list }
  })
  const used: unknown[] = []
  const { Around } = surroundings()
  render(<RecipeMenu statement={statement} use={(chosen) => used.push(chosen)} />, { wrapper: Around })
  press('Recipes')
  fireEvent.click(await screen.findByRole('button', { name: 'Group poster' }))
  expect(used).toEqual([statement])
  const name = screen.getByLabelText<HTMLInputElement>('Name of the recipe')
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Keep' }).disabled).toBe(true)
  fireEvent.change(name, { target: { value: 'Fresh' } })
  press('Keep')
  expect(await screen.findByText('You have a recipe of this name already.')).toBeTruthy()
  expect(name.value).toBe('Fresh')
  refuse = false
  press('Keep')
  expect(await screen.findByRole('button', { name: 'Fresh' })).toBeTruthy()
  expect(name.value).toBe('')
  press('Throw the recipe Group poster away')
  await waitFor(() => expect(asked.some(({ method, path }) => method === 'DELETE' && path === 'recipes/r1')).toBe(true))
  expect(await screen.findByText(/^A recipe is the shape of a slip/)).toBeTruthy()
})
