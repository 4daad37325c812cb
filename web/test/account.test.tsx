import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import ForgottenPage from '../src/account/ForgottenPage'
import OwnPassword from '../src/account/OwnPassword'
import SetPasswordPage from '../src/account/SetPasswordPage'
import SignInPage from '../src/signin/SignInPage'
import { refusal, serveWith, surroundings } from './support/server'

afterEach(cleanup)
const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

describe('signing in', () => {
  const DEMO = {
    password: 'demo',
    people: [
      { first: 'Maren', last: 'Holt', email: 'maren@fennickquay.example', role: 'teacher', classes: '8 Heron' },
      { first: 'Zofia', last: 'Dąbrowska', email: 'zofia@fennickquay.example', role: 'student', classes: '8 Heron' },
      { first: 'Ilse', last: 'Brandt', email: 'ilse@fennickquay.example', role: 'office', classes: '' },
    ],
  } as unknown as NonNullable<Parameters<typeof SignInPage>[0]['demo']>

  test('what is wrong is said at its field, or over the button, and what was typed stays', async () => {
    const answers = [
      refusal(422, 'x', [{ field: 'password', sentence: 'Type your password.' }]),
      refusal(401, 'E-mail or password is wrong.'),
    ]
    const asked = serveWith(() => answers[asked.length - 1]!)
    const { Around } = surroundings()
    render(<SignInPage demo={undefined} />, { wrapper: Around })
    type('E-mail, or the name on your card', 'zofia@fennickquay.example')
    press('Sign in')
    expect(await screen.findByText('Type your password.')).toBeTruthy()
    type('Password', 'wrong')
    press('Sign in')
    expect(await screen.findByText('E-mail or password is wrong.')).toBeTruthy()
    expect(asked.at(-1)!.body).toEqual({ email: 'zofia@fennickquay.example', password: 'wrong' })
    expect(screen.getByLabelText<HTMLInputElement>('Password').value).toBe('wrong')
    expect(screen.queryByLabelText('Find a name or class')).toBeNull()
  })

  test('in the demo a person is found and chosen', async () => {
    const asked = serveWith(() => ({ status: 204 }))
    const { Around } = surroundings()
    render(<SignInPage demo={DEMO} />, { wrapper: Around })
    type('Find a name or class', 'dabrowska')
    expect(screen.queryByText('Maren Holt')).toBeNull()
    press('Zofia Dąbrowska 8 Heron')
    await waitFor(() => expect(asked[0]!.body).toEqual({ email: 'zofia@fennickquay.example', password: 'demo' }))
    type('Find a name or class', 'nobody at all')
    expect(screen.getByText('Nobody of that name.')).toBeTruthy()
    type('Find a name or class', '')
    expect(screen.getByRole('button', { name: 'Ilse Brandt office' })).toBeTruthy()
  })
})

describe('passwords', () => {
  test('one that is forgotten: the same is said whether anybody has the address', async () => {
    const answers = [
      refusal(422, 'x', [
        { field: 'email', sentence: 'This is no e-mail address: it needs an @ with something after it.' },
      ]),
      { status: 204 },
    ]
    const asked = serveWith(() => answers[asked.length - 1]!)
    const { Around } = surroundings()
    render(<ForgottenPage />, { wrapper: Around })
    type('E-mail', 'zofia')
    press('Send the link')
    expect(await screen.findByText(/needs an @/)).toBeTruthy()
    type('E-mail', 'zofia@fennickquay.example')
    expect(screen.queryByText(/needs an @/)).toBeNull()
    press('Send the link')
    expect((await screen.findByRole('status')).textContent).toMatch(/^If somebody here has the address zofia@/)
  })

  test('the link of an invitation greets whom it is for, and says what is wrong with a password', async () => {
    window.history.replaceState(null, '', '/password#secret-token')
    const asked = serveWith(({ path }) =>
      path === 'account/link'
        ? {
            body: {
              first: 'Zofia',
              last: 'Dąbrowska',
              email: 'zofia@fennickquay.example',
              school: 'Fennick Quay School',
              purpose: 'invitation',
            },
          }
        : refusal(422, 'x', [{ field: 'password', sentence: 'Choose at least 10 characters.' }]),
    )
    const { Around } = surroundings()
    render(<SetPasswordPage />, { wrapper: Around })
    expect(await screen.findByRole('heading', { name: 'Welcome, Zofia Dąbrowska' })).toBeTruthy()
    const field = () => screen.getByLabelText<HTMLInputElement>('Choose a password')
    expect(field().type).toBe('password')
    fireEvent.click(screen.getByLabelText('Show what I type'))
    expect(field().type).toBe('text')
    type('Choose a password', 'short')
    press('Keep it and sign in')
    expect((await screen.findByRole('alert')).textContent).toBe('Choose at least 10 characters.')
    expect(asked.at(-1)!.body).toEqual({ token: 'secret-token', password: 'short' })
    type('Choose a password', 'shorter')
    expect(screen.queryByRole('alert')).toBeNull()
  })

  test('a link that is used up leads to a new one', async () => {
    serveWith(() => refusal(410, 'This link was used already, or is too old.'))
    const { Around } = surroundings()
    render(<SetPasswordPage />, { wrapper: Around })
    expect(await screen.findByText('This link was used already, or is too old.')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'New password' }).getAttribute('href')).toBe('/forgotten')
  })

  test('one’s own is changed; elsewhere one is signed out by it', async () => {
    const answers = [
      refusal(422, 'x', [{ field: 'current', sentence: 'This is not the password you have now.' }]),
      { status: 204 },
    ]
    const asked = serveWith(() => answers[asked.length - 1]!)
    let closed = 0
    const { Around } = surroundings()
    render(<OwnPassword close={() => closed++} />, { wrapper: Around })
    type('The password I have now', 'not this')
    type('The new one', 'four words are good')
    press('Change it')
    expect((await screen.findByRole('alert')).textContent).toBe('This is not the password you have now.')
    type('The password I have now', 'this one')
    press('Change it')
    expect((await screen.findByRole('status')).textContent).toBe('Changed. Everywhere else you are signed out.')
    expect(asked.at(-1)).toMatchObject({
      method: 'PUT',
      body: { current: 'this one', password: 'four words are good' },
    })
    expect(screen.queryByRole('button', { name: 'Change it' })).toBeNull()
    fireEvent.click(screen.getAllByRole('button', { name: 'Close' }).at(-1)!)
    expect(closed).toBe(1)
  })
})
