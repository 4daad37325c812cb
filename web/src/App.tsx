import { Suspense, useEffect, useRef } from 'react'
import { Route, Routes, useLocation } from 'react-router'
import { kindOfPlace } from './places'
import { Loaded } from './ui/Loaded'
import { KeptPage } from './frame/KeptPage'
import { NotHere } from './frame/NotHere'
import { wearFonts } from './ui/ownFonts'
import { part } from './ui/part'
import { keepOnlyOf } from './offline/keepPages'
import { type SignedIn, useSession } from './frame/session'

// What is opened first is small: each place loads only its own, and a student never what only teachers use.
const CopyPage = part(() => import('./copy/CopyPage'))
const HistoryPage = part(() => import('./history/HistoryPage'))
const SignInPage = part(() => import('./signin/SignInPage'))
const StudentDesk = part(() => import('./student/StudentDesk'))
const SignUpPage = part(() => import('./student/SignUpPage'))
const OpenKept = part(() => import('./student/Kept'))
const TeacherPlaces = part(() => import('./TeacherPlaces'))
const JoinPage = part(() => import('./join/JoinPage'))
const SetPasswordPage = part(() => import('./account/SetPasswordPage'))
const TrySheet = part(() => import('./worksheets/TrySheet'))
const WalkInPage = part(() => import('./walkin/WalkInPage'))
const ClassLinkPage = part(() => import('./walkin/ClassLinkPage'))
const AboutGavrin = part(() => import('./about/AboutGavrin'))
const ForgottenPage = part(() => import('./account/ForgottenPage'))

/** Loads what is shown first, so that it is there at once when the page is drawn. */
export async function fetchFirst(path: string, person: SignedIn | null): Promise<void> {
  if (!person) return path === '/' ? SignInPage.fetch() : undefined
  if (/^\/copies\/[^/]+\/history/.test(path)) return HistoryPage.fetch()
  if (path.startsWith('/copies/')) return CopyPage.fetch()
  if (person.role === 'student' || person.role === 'guest') return path === '/' ? StudentDesk.fetch() : undefined
  await TeacherPlaces.fetch()
  await (await import('./TeacherPlaces')).fetchPlace(path, person)
}

/** Loads all that is drawn on the server, so that not even the first picture has to wait for it. */
export async function fetchDrawn(): Promise<void> {
  await Promise.all([SignInPage.fetch(), CopyPage.fetch(), StudentDesk.fetch(), TeacherPlaces.fetch()])
  await (await import('./TeacherPlaces')).fetchDrawn()
}

/** Everything, within a router and what is known of the data. */
export function App() {
  const session = useSession()
  const whose = session.data && (session.data.person?.id ?? null)
  useEffect(() => {
    if (whose !== undefined) void keepOnlyOf(whose)
  }, [whose])
  return (
    <>
      <Fonts />
      <Loaded query={session}>
        {({ person: signedIn, demo }) => (
          <KeptPage person={signedIn}>
            {(person) => (
              <Suspense fallback={<p className="page-message loading">One moment …</p>}>
                <Routes>
                  <Route path="/join/:code?" element={<JoinPage person={person} />} />
                  <Route path="/in/:code?" element={<WalkInPage person={person} />} />
                  <Route path="/password" element={<SetPasswordPage />} />
                  <Route path="/forgotten" element={<ForgottenPage />} />
                  <Route path="/about" element={<AboutGavrin />} />
                  <Route path="*" element={person ? <Places person={person} /> : <SignInPage demo={demo} />} />
                </Routes>
              </Suspense>
            )}
          </KeptPage>
        )}
      </Loaded>
    </>
  )
}

/** Fonts that came while a page was read are set in with the next. */
function Fonts() {
  const { pathname } = useLocation()
  const opened = useRef(pathname)
  useEffect(() => {
    if (pathname !== opened.current) wearFonts()
  }, [pathname])
  return null
}

function Places({ person }: { readonly person: SignedIn }) {
  const { pathname } = useLocation()
  const learns = person.role === 'student' || person.role === 'guest'
  return (
    <Suspense
      key={learns ? kindOfPlace(pathname) : 'teacher'}
      fallback={<p className="page-message loading">One moment …</p>}
    >
      <Routes>
        <Route path="/copies/:copyId" element={<CopyPage person={person} />} />
        <Route path="/copies/:copyId/history" element={<HistoryPage person={person} />} />
        <Route path="/to/:handoutId" element={<ClassLinkPage />} />
        {learns ? (
          <>
            <Route path="/" element={<StudentDesk person={person} />} />
            <Route path="/sign-up/:setId" element={<SignUpPage person={person} />} />
            <Route path="/kept/:keptId" element={<OpenKept />} />
            <Route path="*" element={<NotHere />} />
          </>
        ) : (
          <>
            <Route path="/try/:worksheetId" element={<TrySheet />} />
            <Route path="*" element={<TeacherPlaces person={person} />} />
          </>
        )}
      </Routes>
    </Suspense>
  )
}
