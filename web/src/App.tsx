import { Suspense, lazy } from 'react'
import { BrowserRouter, Route, Routes } from 'react-router'
import { CopyPage } from './copy/CopyPage'
import { Loaded } from './ui/Loaded'
import { NotHere } from './ui/NotHere'
import { type SignedIn, useSession } from './ui/session'

// What is opened first is small: each place loads only its own, and a student never what only teachers use.
const SignInPage = lazy(() => import('./signin/SignInPage'))
const StudentDesk = lazy(() => import('./student/StudentDesk'))
const SignUpPage = lazy(() => import('./student/SignUpPage'))
const TeacherPlaces = lazy(() => import('./TeacherPlaces'))
const JoinPage = lazy(() => import('./join/JoinPage'))
const SetPasswordPage = lazy(() => import('./account/SetPasswordPage'))
const TrySheet = lazy(() => import('./worksheets/TrySheet'))
const WalkInPage = lazy(() => import('./walkin/WalkInPage'))
const ClassLinkPage = lazy(() => import('./walkin/ClassLinkPage'))
const ForgottenPage = lazy(() => import('./account/ForgottenPage'))

export function App() {
  const session = useSession()
  return (
    <BrowserRouter>
      <Loaded query={session}>
        {({ person, demo }) => (
          <Suspense fallback={<p className="page-message loading">One moment …</p>}>
            <Routes>
              <Route path="/join/:code?" element={<JoinPage person={person} />} />
              <Route path="/in/:code?" element={<WalkInPage person={person} />} />
              <Route path="/password" element={<SetPasswordPage />} />
              <Route path="/forgotten" element={<ForgottenPage />} />
              <Route path="*" element={person ? <Places person={person} /> : <SignInPage demo={demo} />} />
            </Routes>
          </Suspense>
        )}
      </Loaded>
    </BrowserRouter>
  )
}

function Places({ person }: { readonly person: SignedIn }) {
  return (
    <Routes>
      <Route path="/copies/:copyId" element={<CopyPage person={person} />} />
      <Route path="/to/:handoutId" element={<ClassLinkPage />} />
      {person.role === 'student' || person.role === 'guest' ? (
        <>
          <Route path="/" element={<StudentDesk person={person} />} />
          <Route path="/sign-up/:setId" element={<SignUpPage person={person} />} />
          <Route path="*" element={<NotHere />} />
        </>
      ) : (
        <>
          <Route path="/try/:worksheetId" element={<TrySheet />} />
          <Route path="*" element={<TeacherPlaces person={person} />} />
        </>
      )}
    </Routes>
  )
}
