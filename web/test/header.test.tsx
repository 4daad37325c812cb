import { afterEach, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { Suspense, lazy } from 'react'
import { Link, Outlet, Route, Routes } from 'react-router'
import { Header } from '../src/frame/Header'
import type { SignedIn } from '../src/frame/session'
import { classListed } from './support/samples'
import { serveWith, surroundings } from './support/server'

afterEach(cleanup)

const TEACHER: SignedIn = {
  id: 't1',
  role: 'teacher',
  first: 'Maren',
  last: 'Holt',
  email: 'maren@fennickquay.example',
  school: 'Fennick Quay School',
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const HERON = '11111111-1111-4111-8111-111111111111'
const TERN = '22222222-2222-4222-8222-222222222222'
const SHEET = '33333333-3333-4333-8333-333333333333'

/** A page whose parts do not come: what was on the screen stays there. */
const Never = lazy(() => new Promise<{ default: () => null }>(() => undefined))

function shown(address: string) {
  serveWith(() => ({ body: [] }))
  const { Around } = surroundings([[['classes'], [classListed(HERON, '8 Heron'), classListed(TERN, '8 Tern')]]], {
    path: '*',
    address,
  })
  render(
    <Suspense>
      <Routes>
        <Route
          element={
            <>
              <Header person={TEACHER} />
              <Outlet />
            </>
          }
        >
          <Route path={`/class/${TERN}`} element={<Link to={`/class/${HERON}`}>To the other class</Link>} />
          <Route path={`/class/${HERON}`} element={<Never />} />
          <Route path="/worksheets/:id" element={<p>A worksheet</p>} />
        </Route>
      </Routes>
    </Suspense>,
    { wrapper: Around },
  )
}
const newHandout = () => screen.getByRole('link', { name: 'New handout' }).getAttribute('href')

test('a new handout is for the class that was clicked, also while its page is still coming', async () => {
  shown(`/class/${TERN}`)
  expect(newHandout()).toBe(`/class/${TERN}/slip`)
  fireEvent.click(screen.getByRole('link', { name: 'To the other class' }))
  await waitFor(() => expect(newHandout()).toBe(`/class/${HERON}/slip`))
  expect(screen.getByRole('button', { name: /^Class: 8 Heron/ })).toBeTruthy()
})

test('from a worksheet it gives this worksheet', () => {
  shown(`/worksheets/${SHEET}`)
  expect(newHandout()).toMatch(new RegExp(`^/class/[0-9-]+/slip\\?worksheet=${SHEET}$`))
})
