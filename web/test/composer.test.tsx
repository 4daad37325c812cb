import { type PlanFacts, applyChanges, changesToPlan, planHandout, plainItem, plainStatement } from '@gavrin/core'
import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { rememberBegun, rememberHanding, wasBegunHere } from '../src/composer/begun'
import { ComposerPage } from '../src/composer/ComposerPage'
import type { SlipData } from '../src/composer/queries'
import { planFactsOf, planMember } from './support/samples'
import { typeInto } from './support/segments'
import { type Answer, type Asked, serveWith, surroundings, withRoom } from './support/server'

const edition = (number: number, memberSpaces = 0) => ({
  number,
  answerSpaces: 3,
  points: 0,
  memberSpaces,
  groupSpaces: 0,
})
const WORKSHEETS: PlanFacts['worksheets'] = [
  { id: 'w1', title: 'Reading a tide table', editions: [edition(1), edition(2)] },
  { id: 'w2', title: 'Sea-word glossary', editions: [edition(1)] },
  { id: 'w9', title: 'Blank page', editions: [edition(1)], builtIn: 'blank page' },
  { id: 'w8', title: 'Link', editions: [edition(1)], builtIn: 'link' },
]
const FACTS = planFactsOf()
const NOTHING = { copies: [], notices: [] }
const BEGINNING = {
  number: 12,
  worksheets: WORKSHEETS,
  classes: [
    { id: 'c1', name: '8 Heron', subject: 'Geography' },
    { id: 'c2', name: '8 Tern', subject: 'Geography' },
  ],
  parts: [{ id: null, classId: 'c1', number: 12, handedOutAt: null, facts: FACTS, existing: NOTHING }],
}
const CLASS = { id: 'c1', name: '8 Heron', subject: 'Geography', ink: 'plum', role: 'lead', staff: [] }

/** The composer over these answers; what is not said is answered with nothing. */
async function composed(
  answer: (asked: Asked) => Answer | undefined = () => undefined,
  address = '/class/c1/slip?worksheet=w1',
) {
  const asked = serveWith((one) => {
    const own = answer(one)
    if (own) return own
    if (one.path.endsWith('handouts/beginning')) return { body: BEGINNING }
    if (one.path.includes('handouts/facts'))
      return {
        body: {
          ...BEGINNING.parts[0],
          classId: 'c2',
          number: 4,
          facts: {
            ...FACTS,
            classId: 'c2',
            className: '8 Tern',
            number: 4,
            members: [planMember('p7', 'Tupou', 'Vaiana', '', 'p7@fennickquay.example')],
          },
        },
      }
    if (one.path === 'recipes') return { body: [] }
    if (one.path.startsWith('classes/') && one.method === 'GET') return { body: CLASS }
    return { body: { id: 'h1', version: 1 } }
  })
  const { Around } = surroundings([], { path: '/class/:classId/slip/:handoutId?', address })
  render(<ComposerPage />, { wrapper: Around })
  await screen.findByRole('region', { name: 'Proof' })
  return asked
}

const proof = () => screen.getByRole('region', { name: 'Proof' })
const titles = () =>
  within(proof())
    .queryAllByRole('row')
    .slice(1)
    .map((row) => within(row).getByRole('button').textContent)
const fill = async (label: RegExp, choice: RegExp) => {
  fireEvent.click(screen.getByRole('button', { name: label }))
  fireEvent.click(await screen.findByRole('button', { name: choice }))
}

withRoom()
afterEach(cleanup)

describe('the slip and its proof', () => {
  test('begins with every blank filled in, and the button says the number', async () => {
    await composed()
    expect(titles()).toEqual([
      'Abara, Chidi – Reading a tide table',
      'Rossi, Giulia – Reading a tide table',
      'Suryani – Reading a tide table',
    ])
    expect(screen.getByRole('button', { name: 'Hand out 3 copies' })).toBeTruthy()
    expect(within(proof()).getByText('no e-mail: cannot sign in yet')).toBeTruthy()
  })

  test('another way: the groups share, its name changes along, who is in none is left out', async () => {
    await composed()
    await fill(/^Way:/, /^one per group/)
    await waitFor(() => expect(titles()).toEqual(['Crane – Reading a tide table']))
    expect(screen.getByRole('button', { name: /^Group set: Crews/ })).toBeTruthy()
    fireEvent.click(within(proof()).getByRole('button', { name: /without a copy/ }))
    expect(within(proof()).getByText('in no group of Crews')).toBeTruthy()
  })

  test('to read: the original once, without a name to fill in, and nobody may write', async () => {
    await composed()
    await fill(/^Way:/, /^to read/)
    await waitFor(() => expect(titles()).toEqual(['Reading a tide table']))
    expect(screen.queryByRole('textbox', { name: 'Name of the copies' })).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: /^They may: only view/ }))
    expect(screen.queryByRole('button', { name: /^edit/ })).toBeNull()
  })

  test('different worksheets by a column, and who is left without', async () => {
    await composed()
    fireEvent.click(screen.getByRole('button', { name: 'Different worksheets for some' }))
    await fill(/^Worksheet for Gulls:/, /^Sea-word glossary/)
    await waitFor(() =>
      expect(titles()).toEqual([
        'Abara, Chidi – Sea-word glossary',
        'Rossi, Giulia – Reading a tide table',
        'Suryani – Sea-word glossary',
      ]),
    )
    expect(within(proof()).getByText('1 student fits no rule.')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Leave them out' }))
    await waitFor(() => expect(titles()).toHaveLength(2))
    fireEvent.click(screen.getByRole('button', { name: 'The same for all' }))
    expect(await within(proof()).findByText('Choose a worksheet to give out.')).toBeTruthy()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Hand out 0/ }).disabled).toBe(true)
  })

  test('another class is read, proved beside the first, and can have its own time', async () => {
    const asked = await composed()
    await fill(/^Another class/, /^8 Tern/)
    await waitFor(() => expect(titles()).toContain('Tupou, Vaiana – Reading a tide table'))
    expect(asked.some(({ path }) => path === 'classes/c2/handouts/facts')).toBe(true)
    expect(screen.getByText(/No\. 4 in 8 Tern/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: /^Due for 8 Tern:/ }))
    await screen.findByRole('group', { name: 'Day' })
    typeInto('Day', '04032027')
    expect(screen.getByRole('button', { name: /^Due for 8 Tern: Thu 4 Mar 2027/ })).toBeTruthy()
    expect(screen.queryByRole('button', { name: /^Due for 8 Heron: Thu 4 Mar/ })).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Not for 8 Tern' }))
    await waitFor(() => expect(titles()).toHaveLength(3))
  })

  test('what holds after the due time, who joins later, points that do not add up', async () => {
    await composed()
    await fill(/^After the due time:/, /^pens are down nobody/)
    expect(screen.getByRole('button', { name: 'After the due time: pens are down' })).toBeTruthy()
    await fill(/^Who joins later:/, /^waits/)
    await fill(/^Marking:/, /^marked out of a number/)
    fireEvent.click(screen.getByRole('button', { name: 'Add a rubric' }))
    expect(await within(proof()).findByText('The rubric adds up to 1 points, the handout to 10.')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Mark out of 1' }))
    await waitFor(() => expect(within(proof()).queryByText(/adds up/)).toBeNull())
  })

  test('times of one’s own for one student: another due time, another opening time, and none again', async () => {
    await composed()
    document.querySelectorAll('details').forEach((fold) => (fold.open = true))
    fireEvent.click(screen.getByRole('button', { name: /^Exceptions:/ }))
    fireEvent.change(screen.getByLabelText('Another time for'), { target: { value: 'p2' } })
    expect(await screen.findByRole('button', { name: 'Exceptions: Another time for Rossi, Giulia' })).toBeTruthy()
    await screen.findByRole('group', { name: 'Opens for Rossi, Giulia' })
    expect(within(proof()).queryByText(/opens/)).toBeNull()
    typeInto('Day', '04052099')
    expect(await within(proof()).findByText(/opens .*4 May 2099 08:00/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Empty: Opens for Rossi, Giulia' }))
    await waitFor(() => expect(within(proof()).queryByText(/opens/)).toBeNull())
    fireEvent.click(screen.getByRole('button', { name: 'As for all: Rossi, Giulia' }))
    expect(await screen.findByRole('button', { name: 'Exceptions: The same times for all students' })).toBeTruthy()
  })

  test('a link without an address stops, and one that leads nowhere is explained', async () => {
    await composed()
    fireEvent.click(screen.getByRole('button', { name: 'Add a link' }))
    expect(await within(proof()).findByText('Give the address that the link leads to.')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Link: a link' }))
    fireEvent.change(screen.getByLabelText('Address'), { target: { value: 'tides' } })
    expect(screen.getByText('A link begins with https:// or http:// and leads to a page.')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Address'), { target: { value: 'https://fennickquay.example/tides' } })
    await waitFor(() => expect(titles()).toContain('fennickquay.example-tides'))
  })

  test('peer readers stand in the proof, and can be chosen by hand for one copy', async () => {
    await composed()
    fireEvent.click(screen.getByRole('button', { name: /^Peer readers:/ }))
    fireEvent.click(await screen.findByRole('button', { name: /^1 for each copy/ }))
    expect(await within(proof()).findByRole('columnheader', { name: 'Peer readers' })).toBeTruthy()
    fireEvent.click(within(proof()).getByRole('button', { name: 'Abara, Chidi – Reading a tide table' }))
    fireEvent.click(screen.getByRole('button', { name: 'Its peer readers' }))
    for (const box of screen.getAllByRole('checkbox')) if (!(box as HTMLInputElement).checked) fireEvent.click(box)
    await waitFor(() => {
      const row = within(proof()).getByRole('button', { name: 'Abara, Chidi – Reading a tide table' }).closest('tr')!
      expect(row.textContent).toContain('Giulia Rossi')
      expect(row.textContent).toContain('Suryani')
    })
  })
})

describe('handing out', () => {
  test('keeps the slip, sends what was seen, and says what failed and tries it again', async () => {
    let runs = 0
    const asked = await composed(({ method, path }) => {
      if (method === 'POST' && path.endsWith('/hand-out'))
        return { body: { total: 3, done: 3, finished: true, failures: [] } }
      if (method === 'GET' && path.endsWith('/hand-out')) {
        runs++
        return {
          body: {
            total: 3,
            done: 3,
            finished: true,
            failures: [{ slotKey: 'first:each:p2', reason: 'It could not be written.' }],
          },
        }
      }
      return undefined
    })
    fireEvent.click(screen.getByRole('button', { name: 'Hand out 3 copies' }))
    expect(await screen.findByText('1 could not be written: see “to look at”. All others are done.')).toBeTruthy()
    expect(runs).toBeGreaterThan(0)
    const begun = asked.find(({ method, path }) => method === 'POST' && path === 'handouts/h1/hand-out')!
    expect(begun.body).toMatchObject({ version: 1, fingerprint: expect.stringMatching(/^[0-9a-f]{16}$/) as unknown })
    expect(asked.find(({ method, path }) => method === 'POST' && path.endsWith('/handouts'))!.body).toMatchObject({
      title: 'Reading a tide table',
    })
    fireEvent.click(screen.getByRole('button', { name: 'Try 1 again' }))
    await waitFor(() => expect(asked.some(({ path }) => path === 'handouts/h1/hand-out/retry')).toBe(true))
  })

  test('a slip that cannot be kept is not handed out, and says so', async () => {
    const asked = await composed(({ method, path }) =>
      method === 'POST' && path.endsWith('/handouts')
        ? { status: 503, body: { status: 503, code: 'database-away', detail: 'Gavrin cannot reach its database.' } }
        : undefined,
    )
    fireEvent.click(screen.getByRole('button', { name: 'Hand out 3 copies' }))
    expect(await screen.findByText(/^Nothing was handed out, because the slip could not be kept/)).toBeTruthy()
    expect(asked.some(({ path }) => path.endsWith('/hand-out'))).toBe(false)
    expect(titles()).toHaveLength(3)
  })
})

describe('a page that is loaded again', () => {
  test('a slip that was begun here and never came is begun anew; one of somebody else is not there', async () => {
    const notThere = { status: 404, body: { status: 404, code: 'not-there', detail: 'Not here, or not for you.' } }
    const answer = ({ path }: Asked) => (path === 'handouts/h7' ? notThere : undefined)
    rememberBegun('h7')
    await composed(answer, '/class/c1/slip/h7?worksheet=w1')
    expect(screen.getByRole('button', { name: 'Hand out 3 copies' })).toBeTruthy()
    cleanup()
    rememberBegun('another')
    serveWith(answer as (asked: Asked) => Answer)
    const { Around } = surroundings([], { path: '/class/:classId/slip/:handoutId?', address: '/class/c1/slip/h7' })
    render(<ComposerPage />, { wrapper: Around })
    expect(await screen.findByText('Not here, or not for you.')).toBeTruthy()
  })

  test('the slip is kept under an id of its own from the first change on; what had come already is kept over', async () => {
    const asked = await composed(({ method, path, body }) =>
      method === 'POST' && path === 'classes/c1/handouts'
        ? { status: 201, body: { id: (body as { id: string }).id, version: 1, wasThere: true } }
        : method === 'PUT'
          ? { body: { version: 2 } }
          : undefined,
    )
    fireEvent.change(screen.getByLabelText('Title of the handout'), { target: { value: 'Tides' } })
    await waitFor(() => expect(asked.some(({ method }) => method === 'PUT')).toBe(true))
    const { id } = asked.find(({ method }) => method === 'POST')!.body as { id: string }
    expect(asked.find(({ method }) => method === 'PUT')).toMatchObject({
      path: `handouts/${id}`,
      body: { title: 'Tides', version: 1 },
    })
    expect(await screen.findByText(/slip kept/)).toBeTruthy()
    expect(wasBegunHere(id)).toBe(true)
  })

  test('in the moment of handing out, it leads to the board of what came of it', async () => {
    const statement = plainStatement([plainItem('first', 'w1', 1)], [{ classId: 'c1', opensAt: null, dueAt: null }])
    const slip: SlipData = {
      ...BEGINNING,
      id: 'h1',
      title: 'Tides',
      statement,
      given: statement,
      version: 3,
      handedOutAt: 5,
      lastRunAt: 5,
      undoable: null,
      mayHandOut: true,
    }
    const answer = ({ path }: Asked) =>
      path === 'handouts/h1'
        ? { body: slip }
        : path === 'handouts/h1/hand-out'
          ? { body: { total: 3, done: 3, finished: true, failures: [] } }
          : path === 'classes/c1'
            ? { body: CLASS }
            : { body: [] }
    const opened = () => {
      serveWith(answer)
      const { Around } = surroundings([], { path: '/class/:classId/slip/:handoutId?', address: '/class/c1/slip/h1' })
      render(<ComposerPage />, { wrapper: Around })
    }
    rememberHanding('h1', 4)
    opened()
    expect(await screen.findByText('elsewhere')).toBeTruthy()
    cleanup()
    // Nothing was handed out since: it is a slip as any other.
    rememberHanding('h1', 5)
    opened()
    expect(await screen.findByRole('region', { name: 'Proof' })).toBeTruthy()
  })
})

describe('a slip that was handed out', () => {
  const statement = plainStatement([plainItem('first', 'w1', 1)], [{ classId: 'c1', opensAt: null, dueAt: null }])
  const done = applyChanges(
    NOTHING,
    changesToPlan(planHandout(statement, { ...FACTS, worksheets: WORKSHEETS }, 0), NOTHING),
  )
  const opened = (more: Partial<SlipData> = {}): SlipData => ({
    ...BEGINNING,
    id: 'h1',
    title: 'Tides at the quay',
    statement,
    given: statement,
    version: 3,
    handedOutAt: 1,
    lastRunAt: 1,
    undoable: { kind: 'hand out', at: 1 },
    mayHandOut: true,
    parts: [{ ...BEGINNING.parts[0]!, id: 'h1', handedOutAt: 1, existing: done }],
    ...more,
  })
  const shown = (data: SlipData, answer: (asked: Asked) => Answer | undefined = () => undefined) =>
    composed((asked) => (asked.path === 'handouts/h1' ? { body: data } : answer(asked)), '/class/c1/slip/h1')

  test('has nothing left to do; a newer edition is pointed out and sent to all, or to some', async () => {
    const mark = (most: number) => ({ total: 300, most, step: null, excused: false, open: 0 })
    const moved = { copyId: 'k', personId: null, title: 'Rossi', name: null, uncounted: 0, isOpenAgain: false }
    await shown(opened(), ({ path, body }) =>
      path === 'handouts/h1/marks/proof'
        ? {
            body: {
              of: 2,
              moved: [{ ...moved, before: mark(500), after: mark((body as { copies: object[] }).copies.length * 100) }],
            },
          }
        : undefined,
    )
    expect(screen.queryByText(/marks? changes?/)).toBeNull()
    expect(screen.getByText('All of this is handed out.')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Undo the last hand-out …' })).toBeTruthy()
    expect(screen.getByText(/Edition 2 is newer than what 3 copies have/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Send it to all' }))
    expect(await screen.findByRole('button', { name: 'Change 3 copies' })).toBeTruthy()
    expect(screen.getByText(/3 new edition/)).toBeTruthy()
    expect(await screen.findByText('By another edition: 1 of 2 marks changes.')).toBeTruthy()
    expect(screen.getByText('3 of 3')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Who gets the newer edition' }))
    fireEvent.click(screen.getByLabelText('Rossi, Giulia – Reading a tide table'))
    expect(await screen.findByRole('button', { name: 'Change 2 copies' })).toBeTruthy()
  })

  test('mended to another way: what becomes of the writing is asked, and said in the proof', async () => {
    const written = {
      ...done,
      copies: done.copies.map((copy, at) => (at === 0 ? { ...copy, opened: true, written: { tide: ['p1'] } } : copy)),
    }
    await shown(opened({ parts: [{ ...BEGINNING.parts[0]!, id: 'h1', handedOutAt: 1, existing: written }] }))
    await fill(/^Way:/, /^one together/)
    expect(await screen.findByText(/1 copy with writing in it is set aside/)).toBeTruthy()
    await fill(/^What was written:/, /^given to the one/)
    await waitFor(() => expect(within(proof()).getByText('new, writing goes along')).toBeTruthy())
    expect(screen.getByRole('button', { name: 'Hand out 1 copy and set 3 aside' })).toBeTruthy()
  })

  test('an undo shows what it does before it does it, and is done as it was seen', async () => {
    const copy = (id: string, more: object = {}) => ({
      copyId: id,
      title: `Copy ${id}`,
      className: '8 Heron',
      becomes: ['set aside'],
      state: 'opened',
      written: false,
      ...more,
    })
    const proofOf = (fingerprint: string) => ({
      kind: 'hand out',
      at: Date.now(),
      by: 'Maren Holt',
      isFirst: true,
      copies: [copy('k1'), copy('k2', { written: true, state: 'submitted' }), copy('k3', { becomes: ['rename'] })],
      counts: { make: 0, change: 1, aside: 2 },
      notes: 2,
      fingerprint,
    })
    let looks = 0
    const asked = await shown(opened(), ({ method, path, body }) =>
      path === 'handouts/h1/undo'
        ? method === 'GET'
          ? { body: proofOf(`seen ${++looks}`) }
          : (body as { fingerprint: string }).fingerprint === 'seen 1'
            ? {
                status: 409,
                body: { status: 409, code: 'proof-changed', detail: 'Something changed since you looked.' },
              }
            : { status: 202, body: {} }
        : undefined,
    )
    fireEvent.click(screen.getByRole('button', { name: 'Undo the last hand-out …' }))
    const dialog = within(await screen.findByRole('dialog', { name: 'Undo the last hand-out' }))
    expect(await dialog.findByText('2 copies leave the desks')).toBeTruthy()
    expect(dialog.getByText(/1 of them with writing and 1 submitted\. What was written is kept/)).toBeTruthy()
    expect(dialog.getByText('2 cover notes have gone out with it and cannot be called back.')).toBeTruthy()
    expect(dialog.getAllByRole('listitem').map((item) => item.textContent)).toEqual([
      'Copy k2 leaves the desk · submitted',
      'Copy k1 leaves the desk',
      'Copy k3 has its former name',
    ])
    const act = () => dialog.getByRole('button', { name: 'Take 2 copies back, change 1' })
    fireEvent.click(act())
    expect(await dialog.findByText('Something changed since you looked.')).toBeTruthy()
    await waitFor(() => expect(looks).toBe(2))
    fireEvent.click(act())
    await waitFor(() =>
      expect(asked.filter(({ method, path }) => method === 'POST' && path === 'handouts/h1/undo')).toHaveLength(2),
    )
  })

  describe('two people edit it', () => {
    const theirs = (alteration: object) => ({ ...statement, ...alteration })
    /** Another window kept this meanwhile; what is kept here afterwards. */
    const both = async (alteration: object) => {
      let version = 3
      const asked = await composed(({ method, path, body }) => {
        if (path !== 'handouts/h1') return undefined
        if (method === 'GET')
          return { body: version === 3 ? opened() : opened({ statement: theirs(alteration), version }) }
        if ((body as { version: number }).version === version) return { body: { version: version + 1 } }
        version = 4
        return { status: 409, body: { status: 409, code: 'changed-meanwhile', detail: 'Changed meanwhile.' } }
      }, '/class/c1/slip/h1')
      version = 4
      return () =>
        asked.filter(({ method }) => method === 'PUT').map(({ body }) => body as { version: number; statement: object })
    }

    test('what one of them changed is taken over, and said', async () => {
      const kept = await both({ joiners: 'wait' })
      await fill(/^They may:/, /^only view/)
      expect(await screen.findByText(/Who joins later: waits/)).toBeTruthy()
      await waitFor(() => expect(kept()).toHaveLength(2))
      expect(kept()[1]).toMatchObject({ version: 4, statement: { joiners: 'wait', items: [{ holdersMay: 'view' }] } })
      fireEvent.click(screen.getByRole('button', { name: 'Seen' }))
      expect(screen.queryByText(/Changed meanwhile/)).toBeNull()
    })

    test('what both changed stands side by side, and nothing is kept or handed out before it is settled', async () => {
      const kept = await both({ items: [{ ...statement.items[0]!, holdersMay: 'comment' }] })
      await fill(/^They may:/, /^only view/)
      const table = within(await screen.findByRole('region', { name: 'Changed by both' }))
      const row = table.getByRole('row', { name: /^They may/ })
      expect(row.textContent).toBe('They mayonly viewcomment')
      expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Change 3 copies/ }).disabled).toBe(true)
      expect(kept()).toHaveLength(1)
      fireEvent.click(table.getByRole('radio', { name: 'They may: theirs' }))
      fireEvent.click(table.getByRole('button', { name: 'Keep the slip like this' }))
      await waitFor(() => expect(kept()).toHaveLength(2))
      expect(kept()[1]).toMatchObject({ version: 4, statement: { items: [{ holdersMay: 'comment' }] } })
      expect(await screen.findByRole('button', { name: 'They may: comment' })).toBeTruthy()
      expect(screen.queryByRole('region', { name: 'Changed by both' })).toBeNull()
    })
  })

  test('only the wording changed: that is handed out too', async () => {
    await shown(opened({ given: { ...statement, marking: { kind: 'points', points: 5 } } }))
    expect(screen.getByRole('button', { name: 'Hand out what is new in it' })).toBeTruthy()
  })

  test('who teaches only one of the classes sees it and hands nothing out', async () => {
    await shown(opened({ mayHandOut: false }))
    expect(screen.getByText('You see this slip; those who teach all its classes hand out.')).toBeTruthy()
  })
})
