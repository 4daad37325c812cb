import { Route, Routes } from 'react-router'
import { BoardPage } from './board/BoardPage'
import { BringInPage as BringInListPage } from './class/bringIn/BringInPage'
import { JoinCardPage } from './class/JoinCardPage'
import { JoinSettingsPage } from './class/JoinSettingsPage'
import { RosterPage } from './class/RosterPage'
import { ShelfPage } from './class/ShelfPage'
import { SetUpPage } from './class/SetUpPage'
import { SignInCardsPage } from './class/SignInCardsPage'
import { StaffPage } from './class/StaffPage'
import { GroupListsPage } from './class/groups/GroupListsPage'
import { GroupsPage } from './class/groups/GroupsPage'
import { ComposerPage } from './composer/ComposerPage'
import { HandoutsPage } from './composer/HandoutsPage'
import { TeacherDesk } from './desk/TeacherDesk'
import { ClassesPage } from './desk/ClassesPage'
import { EditorPage } from './editor/EditorPage'
import { MailroomPage } from './mail/MailroomPage'
import { OfficePage } from './people/OfficePage'
import { PersonPage } from './people/PersonPage'
import { Header } from './ui/Header'
import { KeysSheet } from './ui/KeysSheet'
import { NotHere } from './ui/NotHere'
import type { SignedIn } from './ui/session'
import { AboutPage } from './worksheets/AboutPage'
import { ComparePage } from './worksheets/ComparePage'
import { KeyPage, ReadPage } from './worksheets/ReadSheet'
import { TryPage } from './worksheets/TryPage'
import { WorksheetsPage } from './worksheets/WorksheetsPage'
import { BringInPage } from './worksheets/bringIn/BringInPage'
import { ReviewPage } from './worksheets/bringIn/ReviewPage'

/** Everything a teacher goes to, under the one header line. */
export default function TeacherPlaces({ person }: { readonly person: SignedIn }) {
  return (
    <div className="teacher">
      <Header person={person} />
      <KeysSheet />
      <Routes>
        <Route path="/" element={person.role === 'office' ? <OfficePage person={person} /> : <TeacherDesk />} />
        <Route path="/classes" element={<ClassesPage />} />
        <Route path="/class/:classId" element={<RosterPage />} />
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
        <Route path="/class/:classId/slip/:handoutId?" element={<ComposerPage />} />
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
    </div>
  )
}
