import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { Link, Route, Routes } from 'react-router'
import { BringInPage } from '../src/class/lists/BringInPage'
import { type Student, classKey, rosterKey } from '../src/class/queries'
import { type ListTask, workOnList } from '../src/workers/listWorker'
import { classOpened } from './support/samples'
import { serveWith, surroundings, withRoom } from './support/server'

const OPENED = classOpened({ columns: [{ id: 'band', name: 'Reading band', kind: 'text' }] })
const student = (personId: string, first: string, last: string, more: Partial<Student> = {}): Student => ({
  personId,
  first,
  last,
  email: `${personId}@fennickquay.example`,
  number: null,
  cells: {},
  joinedAt: 0,
  leftAt: null,
  canSignIn: true,
  invitedAt: null,
  ...more,
})
const STUDENTS = [
  student('chidi', 'Chidi', 'Abara', { cells: { band: 'A' } }),
  student('finn', 'Finn', 'O’Hara'),
  student('gone', 'Mei', 'Sato', { leftAt: 1 }),
]

/** A worker that works in the page itself, and answers a moment later as one does. */
class PageWorker {
  onmessage: ((event: { data: unknown }) => void) | null = null
  postMessage(task: ListTask): void {
    queueMicrotask(() => act(() => this.onmessage?.({ data: workOnList(task) })))
  }
  terminate(): void {
    this.onmessage = null
  }
}

const Start = () => <Link to="/class/k/bring-in">begin</Link>

function opened(answer: Parameters<typeof serveWith>[0] = () => ({ body: {} })) {
  const asked = serveWith((one) =>
    one.method === 'GET' ? { body: one.path.endsWith('roster') ? STUDENTS : OPENED } : answer(one),
  )
  const { Around } = surroundings([
    [classKey('k'), OPENED],
    [rosterKey('k'), STUDENTS],
  ])
  render(
    <Around>
      <Routes>
        <Route path="/" element={<Start />} />
        <Route path="/class/:classId/bring-in" element={<BringInPage />} />
        <Route path="/class/:classId" element={<p>the roster</p>} />
      </Routes>
    </Around>,
  )
  fireEvent.click(screen.getByRole('link', { name: 'begin' }))
  return asked
}

const paste = async (text: string) => {
  await act(async () => {
    fireEvent.change(screen.getByLabelText('Paste the rows from your spreadsheet'), { target: { value: text } })
    await Promise.resolve()
  })
  await screen.findByRole('table', { name: /Columns/ })
}
const counts = () => document.querySelector('.counts')!.textContent
const cell = (label: string) => screen.getByLabelText<HTMLInputElement>(label).value

const LIST = [
  'Surname;Given name;Mail;Reading band;House',
  'Abara-Cole;Chidi;chidi@fennickquay.example;B;Pier',
  'Rossi;Giulia;giulia@fennickquay;A;Quay',
  'Sato;Mei;gone@fennickquay.example;;Quay',
].join('\n')

withRoom()

beforeEach(() => {
  Object.assign(globalThis, { Worker: PageWorker })
})
afterEach(() => {
  cleanup()
  jest.restoreAllMocks()
})

describe('bringing in a list', () => {
  test('says what would change, who comes back, and who is missing', async () => {
    opened()
    await paste(LIST)
    expect(counts()).toContain('1 new')
    expect(counts()).toContain('1 changed')
    expect(counts()).toContain('1 back again')
    expect(counts()).toContain('1 missing from the list')
    expect(screen.getByText('Last name: Abara → Abara-Cole; Reading band: A → B; House: Pier')).toBeTruthy()
    expect(screen.getByText('1 row has to be put right first.')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Save 3 rows' })).toHaveProperty('disabled', true)
  })

  test('a guess that was wrong is changed, and what the columns mean with it', async () => {
    opened()
    await paste(LIST)
    const role = (heading: string) => screen.getByLabelText<HTMLSelectElement>(`Column ${heading} holds`)
    expect(['Surname', 'Mail', 'Reading band', 'House'].map((heading) => role(heading).value)).toEqual([
      'last',
      'email',
      'keep',
      'keep',
    ])
    await act(async () => {
      fireEvent.change(role('Given name'), { target: { value: 'last' } })
      await Promise.resolve()
    })
    // Only one column is the last name: the other one gives way.
    await waitFor(() => expect(role('Surname').value).toBe('unused'))
    expect(cell('Last name, row 2')).toBe('Chidi')
    await act(async () => {
      fireEvent.click(screen.getByRole('button', { name: 'None' }))
      await Promise.resolve()
    })
    await waitFor(() => expect(cell('E-mail, row 1')).toBe('Mail'))
  })

  test('rows are corrected in place, left out, and filtered; then all of it is saved, with who leaves', async () => {
    const asked = opened()
    await paste(LIST)
    await act(async () => {
      fireEvent.change(screen.getByLabelText('E-mail, row 3'), { target: { value: 'giulia@fennickquay.example' } })
      await Promise.resolve()
    })
    await waitFor(() => expect(screen.queryByText(/has to be put right first/)).toBeNull())
    await act(async () => {
      fireEvent.click(screen.getByRole('button', { name: 'Leave out row 4' }))
      await Promise.resolve()
    })
    await waitFor(() => expect(counts()).toContain('1 left out'))
    fireEvent.click(screen.getByRole('button', { name: /changed$/ }))
    expect(screen.queryByLabelText('Last name, row 3')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: /changed$/ }))
    fireEvent.click(screen.getByLabelText('Finn O’Hara'))
    expect(screen.getByText('1 student leaves the class; their work is kept.')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Save 2 rows' }))
    expect(await screen.findByText('the roster')).toBeTruthy()
    expect(asked.find(({ method }) => method === 'POST')).toEqual({
      method: 'POST',
      path: 'classes/k/roster',
      body: {
        rows: [
          {
            line: 1,
            first: 'Chidi',
            last: 'Abara-Cole',
            email: 'chidi@fennickquay.example',
            number: '',
            cells: { 'Reading band': 'B', House: 'Pier' },
          },
          {
            line: 2,
            first: 'Giulia',
            last: 'Rossi',
            email: 'giulia@fennickquay.example',
            number: '',
            cells: { 'Reading band': 'A', House: 'Quay' },
          },
        ],
        leave: ['finn'],
      },
    })
  })

  const does = async (what: () => void) =>
    act(async () => {
      what()
      await Promise.resolve()
    })

  test('a list with titles and totals: where it stands is shown, and can be said otherwise', async () => {
    opened()
    await paste(`Class list;8 Heron\n\n${LIST}\nTotal;3`)
    expect(screen.getByRole('group', { name: 'Headings' }).textContent).toContain(
      'Headings: row 3 Surname · Given name',
    )
    expect(counts()).toContain('2 left out')
    expect(screen.getByText('Total · 3')).toBeTruthy()
    expect(cell('Last name, row 4')).toBe('Abara-Cole')
    // What was put right stays while other things are said about the list.
    await does(() => fireEvent.change(screen.getByLabelText('Last name, row 5'), { target: { value: 'Rossini' } }))
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'Row 7 is a student' })))
    await waitFor(() => expect(cell('Last name, row 7')).toBe('Total'))
    expect(cell('Last name, row 5')).toBe('Rossini')
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'Leave out row 7' })))
    await waitFor(() => expect(screen.getByText('(left out by hand)')).toBeTruthy())
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'Row 7 is a student' })))
    await waitFor(() => expect(cell('Last name, row 7')).toBe('Total'))
    // Blank rows are stepped over.
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'Row above' })))
    await waitFor(() => expect(screen.getByText('Headings: row 1')).toBeTruthy())
    expect(screen.getByRole('button', { name: 'Row above' })).toHaveProperty('disabled', true)
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'None' })))
    await waitFor(() => expect(screen.getByText('No headings')).toBeTruthy())
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'There are some' })))
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'Row below' })))
    await waitFor(() => expect(screen.getByText('Headings: row 3')).toBeTruthy())
  })

  test('names of one column are parted as it is said once, with a preview', async () => {
    const asked = opened()
    await paste('Name;House\nAbara Chidi;Pier\nNguyễn Minh Anh;Quay')
    const ways = screen.getByRole('group', { name: '2 names stand in one cell' })
    expect(cell('Last name, row 2')).toBe('Chidi')
    await does(() =>
      fireEvent.change(within(ways).getByLabelText('In one cell stand'), { target: { value: 'last first' } }),
    )
    await waitFor(() => expect(cell('Last name, row 2')).toBe('Abara'))
    expect(within(ways).getByRole('row', { name: 'Nguyễn Minh Anh Nguyễn Minh Anh' })).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Save 2 rows' }))
    await screen.findByText('the roster')
    expect(asked.find(({ method }) => method === 'POST')!.body).toMatchObject({
      rows: [{ last: 'Abara' }, { last: 'Nguyễn', first: 'Minh Anh' }],
    })
  })

  test('of two columns of addresses it has to be said which are the students’ own, before anything is saved', async () => {
    const asked = opened()
    await paste(
      [
        'Parent e-mail;Surname;Given name;E-mail',
        'claudia@post.example;Rossi;Giulia;giulia@fennickquay.example',
        'claudia@post.example;Rossi;Marco;marco@fennickquay.example',
      ].join('\n'),
    )
    // Understood rightly, and asked all the same.
    expect(cell('E-mail, row 2')).toBe('giulia@fennickquay.example')
    expect(screen.getByText(/say on the left which are the students’ own/)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Save 2 rows' })).toHaveProperty('disabled', true)
    const choose = async (name: RegExp) => {
      await act(async () => {
        fireEvent.click(screen.getByRole('radio', { name }))
        await Promise.resolve()
      })
    }
    await choose(/^Parent e-mail/)
    await waitFor(() => expect(cell('E-mail, row 2')).toBe('claudia@post.example'))
    await choose(/^none of them/)
    await waitFor(() => expect(cell('E-mail, row 2')).toBe(''))
    await choose(/^E-mail/)
    await waitFor(() => expect(cell('E-mail, row 2')).toBe('giulia@fennickquay.example'))
    expect(screen.queryByText(/say on the left/)).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Save 2 rows' }))
    await screen.findByText('the roster')
    const { rows } = asked.find(({ method }) => method === 'POST')!.body as {
      rows: { email: string; cells: unknown }[]
    }
    expect(rows.map(({ email, cells }) => [email, cells])).toEqual([
      ['giulia@fennickquay.example', { 'Parent e-mail': 'claudia@post.example' }],
      ['marco@fennickquay.example', { 'Parent e-mail': 'claudia@post.example' }],
    ])
  })

  test('the same name with another e-mail: nothing is saved before it is said whether it is the same person', async () => {
    const asked = opened()
    await paste(
      'Surname;Given name;Mail\nAbara;Chidi;chidi.abara@fennickquay.example\nRossi;Giulia;g@fennickquay.example',
    )
    expect(screen.getByText(/Chidi Abara is in the class with chidi@fennickquay.example/)).toBeTruthy()
    expect(screen.getByText(/Say first whether one row is about somebody/)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Save 2 rows' })).toHaveProperty('disabled', true)
    const say = async (name: string) => {
      await act(async () => {
        fireEvent.click(screen.getByRole('button', { name }))
        await Promise.resolve()
      })
    }
    await say('Somebody else')
    await waitFor(() => expect(counts()).toContain('2 new'))
    expect(screen.getByRole('button', { name: 'Save 2 rows' })).toHaveProperty('disabled', false)
    await say('Same person')
    await waitFor(() => expect(counts()).toContain('1 changed'))
    expect(screen.getByText('E-mail: chidi@fennickquay.example → chidi.abara@fennickquay.example')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Save 2 rows' }))
    await screen.findByText('the roster')
    const { rows } = asked.find(({ method }) => method === 'POST')!.body as { rows: { sameAs?: string }[] }
    expect(rows.map(({ sameAs }) => sameAs)).toEqual(['chidi', undefined])
  })

  test('a row is not the person any more of whom it was said, once its name is another', async () => {
    opened()
    await paste('Surname;Given name;Mail\nAbara;Chidi;chidi.abara@fennickquay.example')
    const does = async (what: () => unknown) => {
      await act(async () => {
        what()
        await Promise.resolve()
      })
    }
    await does(() => fireEvent.click(screen.getByRole('button', { name: 'Same person' })))
    await waitFor(() => expect(counts()).toContain('1 changed'))
    await does(() =>
      fireEvent.change(screen.getByLabelText('E-mail, row 2'), { target: { value: 'c@fennickquay.example' } }),
    )
    await waitFor(() =>
      expect(screen.getByText('E-mail: chidi@fennickquay.example → c@fennickquay.example')).toBeTruthy(),
    )
    await does(() => fireEvent.change(screen.getByLabelText('Last name, row 2'), { target: { value: 'Okafor' } }))
    await waitFor(() => expect(counts()).toContain('1 new'))
  })

  test('a whole class that gets new addresses is said to be the same people at once', async () => {
    const asked = opened()
    await paste(
      'Surname;Given name;Mail\nAbara;Chidi;chidi.a@fennickquay.example\nO’Hara;Finn;finn.o@fennickquay.example',
    )
    await act(async () => {
      fireEvent.click(screen.getByRole('button', { name: 'All 2 are the same people' }))
      await Promise.resolve()
    })
    await waitFor(() => expect(counts()).toContain('2 changed'))
    fireEvent.click(screen.getByRole('button', { name: 'Save 2 rows' }))
    await screen.findByText('the roster')
    const { rows } = asked.find(({ method }) => method === 'POST')!.body as { rows: { sameAs?: string }[] }
    expect(rows.map(({ sameAs }) => sameAs)).toEqual(['chidi', 'finn'])
  })

  test('a row that is being corrected stays until it is left, though it is in doubt no more', async () => {
    opened()
    await paste(LIST)
    fireEvent.click(screen.getByLabelText('Only rows in doubt'))
    expect(screen.queryByLabelText('E-mail, row 2')).toBeNull()
    const field = screen.getByLabelText<HTMLInputElement>('E-mail, row 3')
    act(() => field.focus())
    // Valid already, and only half of it.
    await act(async () => {
      fireEvent.change(field, { target: { value: 'giulia@fennickquay.exam' } })
      await Promise.resolve()
    })
    await waitFor(() => expect(counts()).toContain('0 in doubt'))
    expect(screen.getByLabelText('E-mail, row 3')).toBe(field)
    await act(async () => {
      fireEvent.change(field, { target: { value: 'giulia@fennickquay.example' } })
      await Promise.resolve()
    })
    expect(cell('E-mail, row 3')).toBe('giulia@fennickquay.example')
    // To another field of the same row, then away.
    act(() => screen.getByLabelText<HTMLInputElement>('First name, row 3').focus())
    expect(screen.getByLabelText('E-mail, row 3')).toBe(field)
    act(() => screen.getByLabelText<HTMLInputElement>('Only rows in doubt').focus())
    await waitFor(() => expect(screen.queryByLabelText('E-mail, row 3')).toBeNull())
  })

  test('a field holds what is typed, however long understanding takes; what is kept stands beside it', async () => {
    opened()
    await paste(LIST)
    let held: (() => void)[] = []
    jest.spyOn(PageWorker.prototype, 'postMessage').mockImplementation(function (this: PageWorker, task) {
      held.push(() => this.onmessage?.({ data: workOnList(task) }))
    })
    const field = screen.getByLabelText<HTMLInputElement>('Last name, row 2')
    fireEvent.change(field, { target: { value: '  Abara' } })
    expect(field.value).toBe('  Abara')
    fireEvent.change(field, { target: { value: '  Abara  Cole' } })
    expect(field.value).toBe('  Abara  Cole')
    act(() => held.splice(0).forEach((answer) => answer()))
    expect(field.value).toBe('  Abara  Cole')
    expect(within(field.closest('tr')!).getByText(/Last name is kept as/).textContent).toBe(
      'Last name is kept as “Abara Cole”',
    )
    held = []
  })

  test('what the server says of a row stands at that row, and nothing typed is lost', async () => {
    opened(() => ({
      status: 422,
      body: {
        detail: 'This e-mail belongs to somebody on the staff.',
        errors: [{ row: 0, field: 'rows.0.email', sentence: 'This e-mail belongs to somebody on the staff.' }],
      },
    }))
    await paste('Surname;Given name;Mail\nSandvik;Birgit;sandvik@fennickquay.example')
    fireEvent.click(screen.getByRole('button', { name: 'Save 1 row' }))
    const row = (await screen.findByLabelText('Last name, row 2')).closest('tr')!
    await waitFor(() => expect(within(row).getByText('This e-mail belongs to somebody on the staff.')).toBeTruthy())
    expect(cell('E-mail, row 2')).toBe('sandvik@fennickquay.example')
  })

  test('a file of another kind gets a sentence, and what was there stays', async () => {
    opened()
    await paste(LIST)
    const file = new File([Uint8Array.from([0x25, 0x50, 0x44, 0x46, 1])], 'list.pdf')
    Object.assign(file, { arrayBuffer: () => Promise.resolve(Uint8Array.from([0x25, 0x50, 0x44, 0x46, 1]).buffer) })
    await act(async () => {
      fireEvent.change(screen.getByLabelText('Choose a file'), { target: { files: [file] } })
      await Promise.resolve()
    })
    expect((await screen.findByText(/This is a document or a picture, not a list/)).textContent).toBeTruthy()
    expect(cell('Last name, row 3')).toBe('Rossi')
  })
})
