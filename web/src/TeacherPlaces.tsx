import { Route, Routes } from 'react-router'
import { BoardPage } from './board/BoardPage'
import { BringInPage } from './class/BringInPage'
import { ClassPage } from './class/ClassPage'
import { SignInCardsPage } from './class/SignInCardsPage'
import { ComposerPage } from './composer/ComposerPage'
import { HandoutsPage } from './composer/HandoutsPage'
import { TeacherDesk } from './desk/TeacherDesk'
import { EditorPage } from './editor/EditorPage'
import { Header } from './ui/Header'
import { KeysSheet } from './ui/KeysSheet'
import { NotHere } from './ui/NotHere'
import type { SignedIn } from './ui/session'
import { WorksheetsPage } from './worksheets/WorksheetsPage'

/** Everything a teacher goes to, under the one header line. */
export default function TeacherPlaces({ person }: { readonly person: SignedIn }) {
  return (
    <div className="teacher">
      <Header person={person} />
      <KeysSheet />
      <Routes>
        <Route path="/" element={<TeacherDesk />} />
        <Route path="/class/:classId" element={<ClassPage />} />
        <Route path="/class/:classId/bring-in" element={<BringInPage />} />
        <Route path="/class/:classId/cards" element={<SignInCardsPage />} />
        <Route path="/class/:classId/handouts" element={<HandoutsPage />} />
        <Route path="/class/:classId/handouts/:handoutId" element={<BoardPage person={person} />} />
        <Route path="/class/:classId/slip/:handoutId?" element={<ComposerPage />} />
        <Route path="/worksheets" element={<WorksheetsPage />} />
        <Route path="/worksheets/:worksheetId" element={<EditorPage />} />
        <Route path="*" element={<NotHere />} />
      </Routes>
    </div>
  )
}
