import { Suspense, useEffect } from 'react'
import { Route, Routes, useLocation } from 'react-router'
import { kindOfPlace } from './places'
import { Header } from './frame/Header'
import { KeysSheet } from './frame/KeysSheet'
import { NotHere } from './frame/NotHere'
import { part } from './ui/part'
import { whenIdle } from './ui/whenIdle'
import type { SignedIn } from './frame/session'

// The places of teachers share each other's styles: all of them come together, and are small.
import './board/board.css'
import './class/class.css'
import './class/groups/groups.css'
import './composer/composer.css'
import './copy/copy.css'
import './desk/desk.css'
import './editor/editor.css'
import './people/people.css'
import './sheet/sheet.css'
import './worksheets/bringIn/bringIn.css'
import './worksheets/library.css'

// Each place is a part of its own: what is opened first loads little, the others are fetched when nothing waits.
const BoardPage = part(async () => ({ default: (await import('./board/BoardPage')).BoardPage }))
const BringInListPage = part(async () => ({ default: (await import('./class/lists/BringInPage')).BringInPage }))
const JoinCardPage = part(async () => ({ default: (await import('./class/JoinCardPage')).JoinCardPage }))
const JoinSettingsPage = part(async () => ({ default: (await import('./class/JoinSettingsPage')).JoinSettingsPage }))
const RosterPage = part(async () => ({ default: (await import('./class/roster/RosterPage')).RosterPage }))
const OverviewPage = part(async () => ({ default: (await import('./class/OverviewPage')).OverviewPage }))
const ShelfPage = part(async () => ({ default: (await import('./class/ShelfPage')).ShelfPage }))
const SetUpPage = part(async () => ({ default: (await import('./class/SetUpPage')).SetUpPage }))
const SignInCardsPage = part(async () => ({
  default: (await import('./class/roster/SignInCardsPage')).SignInCardsPage,
}))
const StaffPage = part(async () => ({ default: (await import('./class/StaffPage')).StaffPage }))
const GroupListsPage = part(async () => ({ default: (await import('./class/groups/GroupListsPage')).GroupListsPage }))
const GroupsPage = part(async () => ({ default: (await import('./class/groups/GroupsPage')).GroupsPage }))
const ComposerPage = part(async () => ({ default: (await import('./composer/ComposerPage')).ComposerPage }))
const HandoutsPage = part(async () => ({ default: (await import('./composer/HandoutsPage')).HandoutsPage }))
const TeacherDesk = part(async () => ({ default: (await import('./desk/TeacherDesk')).TeacherDesk }))
const ClassesPage = part(async () => ({ default: (await import('./desk/ClassesPage')).ClassesPage }))
const EditorPage = part(async () => ({ default: (await import('./editor/EditorPage')).EditorPage }))
const MailroomPage = part(async () => ({ default: (await import('./mail/MailroomPage')).MailroomPage }))
const OfficePage = part(async () => ({ default: (await import('./people/OfficePage')).OfficePage }))
const MarkingPage = part(async () => ({ default: (await import('./marking/MarkingPage')).MarkingPage }))
const MarkBookPage = part(async () => ({ default: (await import('./markBook/MarkBookPage')).MarkBookPage }))
const LikenessPage = part(async () => ({ default: (await import('./likeness/LikenessPage')).LikenessPage }))
const PersonPage = part(async () => ({ default: (await import('./people/PersonPage')).PersonPage }))
const AboutPage = part(async () => ({ default: (await import('./worksheets/AboutPage')).AboutPage }))
const ComparePage = part(async () => ({ default: (await import('./worksheets/ComparePage')).ComparePage }))
const KeyPage = part(async () => ({ default: (await import('./worksheets/ReadSheet')).KeyPage }))
const ReadPage = part(async () => ({ default: (await import('./worksheets/ReadSheet')).ReadPage }))
const TryPage = part(async () => ({ default: (await import('./worksheets/TryPage')).TryPage }))
const AutomationPage = part(async () => ({ default: (await import('./automation/AutomationPage')).AutomationPage }))
const SavedCopiesPage = part(async () => ({ default: (await import('./savedCopies/SavedCopiesPage')).SavedCopiesPage }))
const WorksheetsPage = part(async () => ({ default: (await import('./worksheets/WorksheetsPage')).WorksheetsPage }))
const BringInPage = part(async () => ({ default: (await import('./worksheets/bringIn/BringInPage')).BringInPage }))
const ReviewPage = part(async () => ({ default: (await import('./worksheets/bringIn/ReviewPage')).ReviewPage }))
const ALL = [
  BoardPage,
  BringInListPage,
  JoinCardPage,
  JoinSettingsPage,
  RosterPage,
  OverviewPage,
  ShelfPage,
  SetUpPage,
  SignInCardsPage,
  StaffPage,
  GroupListsPage,
  GroupsPage,
  ComposerPage,
  HandoutsPage,
  TeacherDesk,
  ClassesPage,
  EditorPage,
  MailroomPage,
  OfficePage,
  MarkingPage,
  MarkBookPage,
  LikenessPage,
  PersonPage,
  AboutPage,
  ComparePage,
  KeyPage,
  ReadPage,
  TryPage,
  AutomationPage,
  SavedCopiesPage,
  WorksheetsPage,
  BringInPage,
  ReviewPage,
]

/** Loads what stands at an address, where that is the first thing shown. */
export async function fetchPlace(path: string, person: SignedIn): Promise<void> {
  if (path === '/') return person.role === 'office' ? OfficePage.fetch() : TeacherDesk.fetch()
  if (/^\/class\/[^/]+\/handouts\/[^/]+$/.test(path)) return BoardPage.fetch()
}

/** Loads the places that are drawn on the server. */
export const fetchDrawn = (): Promise<unknown> => Promise.all([TeacherDesk.fetch(), BoardPage.fetch()])

/** Everything a teacher goes to, under the one header line. */
export default function TeacherPlaces({ person }: { readonly person: SignedIn }) {
  // Another kind of place: the header is there at once, and the place says that it is coming.
  const kind = kindOfPlace(useLocation().pathname)
  useEffect(() => whenIdle(ALL.map(({ fetch }) => fetch)), [])
  return (
    <div className="teacher">
      <Header person={person} />
      <KeysSheet />
      <Suspense key={kind} fallback={<p className="page-message loading">One moment …</p>}>
        <Routes>
          <Route path="/" element={person.role === 'office' ? <OfficePage person={person} /> : <TeacherDesk />} />
          <Route path="/classes" element={<ClassesPage />} />
          <Route path="/class/:classId" element={<RosterPage />} />
          <Route path="/class/:classId/overview" element={<OverviewPage />} />
          <Route path="/class/:classId/groups" element={<GroupsPage />} />
          <Route path="/class/:classId/groups/print" element={<GroupListsPage />} />
          <Route path="/class/:classId/staff" element={<StaffPage />} />
          <Route path="/class/:classId/shelf" element={<ShelfPage />} />
          <Route path="/class/:classId/join" element={<JoinSettingsPage />} />
          <Route path="/class/:classId/join/card" element={<JoinCardPage />} />
          <Route path="/class/:classId/set-up" element={<SetUpPage />} />
          <Route path="/class/:classId/mailroom" element={<MailroomPage />} />
          <Route path="/person/:personId" element={<PersonPage person={person} />} />
          <Route path="/class/:classId/bring-in" element={<BringInListPage />} />
          <Route path="/class/:classId/cards" element={<SignInCardsPage />} />
          <Route path="/class/:classId/handouts" element={<HandoutsPage />} />
          <Route path="/class/:classId/handouts/:handoutId" element={<BoardPage person={person} />} />
          <Route path="/class/:classId/handouts/:handoutId/likeness" element={<LikenessPage />} />
          <Route path="/class/:classId/handouts/:handoutId/marking" element={<MarkingPage person={person} />} />
          <Route path="/class/:classId/marks" element={<MarkBookPage />} />
          <Route path="/class/:classId/slip/:handoutId?" element={<ComposerPage />} />
          <Route path="/programs" element={<AutomationPage />} />
          <Route path="/saved-copies" element={<SavedCopiesPage />} />
          <Route path="/worksheets" element={<WorksheetsPage />} />
          <Route path="/worksheets/bring-in" element={<BringInPage />} />
          <Route path="/worksheets/bring-in/:bringInId" element={<ReviewPage />} />
          <Route path="/worksheets/:worksheetId" element={<EditorPage person={person} />} />
          <Route path="/worksheets/:worksheetId/about" element={<AboutPage />} />
          <Route path="/worksheets/:worksheetId/compare" element={<ComparePage />} />
          <Route path="/worksheets/:worksheetId/key" element={<KeyPage />} />
          <Route path="/worksheets/:worksheetId/read" element={<ReadPage />} />
          <Route path="/worksheets/:worksheetId/try" element={<TryPage />} />
          <Route path="*" element={<NotHere />} />
        </Routes>
      </Suspense>
    </div>
  )
}
