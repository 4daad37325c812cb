import { useEffect } from 'react'
import { SavedList } from './SavedList'

/** What one has saved of many copies, to be fetched. */
export function SavedCopiesPage() {
  useEffect(() => {
    document.title = 'Copies as documents – Gavrin'
  }, [])
  return (
    <main className="page">
      <div className="page-head">
        <h1>Copies as documents</h1>
        <span className="soft">to be fetched for a week, then they are made anew</span>
      </div>
      <SavedList empty="Nothing here: save copies on a board, in the overview of a class, or on the page of a student." />
    </main>
  )
}
