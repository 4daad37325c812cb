import { Suspense, lazy } from 'react'
import { BrowserRouter, Route, Routes } from 'react-router'
import { CopyPage } from './copy/CopyPage'
import { SignInPage } from './signin/SignInPage'
import { StudentDesk } from './student/StudentDesk'
import { Loaded } from './ui/Loaded'
import { NotHere } from './ui/NotHere'
import { type SignedIn, useSession } from './ui/session'

// A student never loads what only teachers use.
const TeacherPlaces = lazy(() => import('./TeacherPlaces'))

export function App() {
  const session = useSession()
  return (
    <BrowserRouter>
      <Loaded query={session}>
        {({ person, demo }) => (person ? <Places person={person} /> : <SignInPage demo={demo} />)}
      </Loaded>
    </BrowserRouter>
  )
}

function Places({ person }: { readonly person: SignedIn }) {
  return (
    <Suspense fallback={<p className="page-message loading">One moment …</p>}>
      <Routes>
        <Route path="/copies/:copyId" element={<CopyPage person={person} />} />
        {person.role === 'student' ? (
          <>
            <Route path="/" element={<StudentDesk person={person} />} />
            <Route path="*" element={<NotHere />} />
          </>
        ) : (
          <Route path="*" element={<TeacherPlaces person={person} />} />
        )}
      </Routes>
    </Suspense>
  )
}
