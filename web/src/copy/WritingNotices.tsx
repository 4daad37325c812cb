import { type WorksheetContent, spaceLabel } from '@gavrin/core'
import Button from 'react-bootstrap/Button'
import type { CopyView, OpenCopy } from '../live/openCopy'
import { Notice } from '../ui/Notice'

interface Props {
  readonly content: WorksheetContent
  readonly copy: Pick<OpenCopy, 'forgetRefusal' | 'forgetLate' | 'hasUnsaved'>
  readonly view: CopyView
}

/** What became of words that were written here, where that is not what was expected; and which answers fill up. */
export function WritingNotices({ content, copy, view }: Props) {
  const named = (spaces: readonly string[]) => spaces.map((space) => `“${spaceLabel(content, space)}”`).join(', ')
  return (
    <>
      {view.refusals.map((refusal) => (
        <Notice key={`${refusal.space}-${refusal.text}`} kind="look">
          {refusal.sentence} What you wrote in {named([refusal.space])} was not taken.{' '}
          {refusal.text && (
            <>
              These were your words, kept in this browser: <q className="refused-text">{refusal.text}</q>{' '}
              <Button variant="link" onClick={() => void navigator.clipboard.writeText(refusal.text)}>
                Copy them
              </Button>{' '}
            </>
          )}
          <Button variant="link" onClick={() => copy.forgetRefusal(refusal)}>
            I have them
          </Button>
        </Notice>
      ))}
      {view.late.length > 0 && (
        <Notice kind="look">
          {view.late[0]!.sentence} What you wrote after that in {named(view.late.map(({ space }) => space))} came too
          late for the answer. It is kept under “Late writing” below, for you and your teachers.{' '}
          <Button variant="link" onClick={() => copy.forgetLate()}>
            Close
          </Button>
        </Notice>
      )}
      {view.closed && copy.hasUnsaved && (
        <Notice kind="look">What you wrote last is not saved. It is kept in this browser until it can be.</Notice>
      )}
      {view.filling.size > 0 && view.permission === 'edit' && (
        <Notice kind="look">Nearly full: {named([...view.filling])}. Not much more can be added there.</Notice>
      )}
    </>
  )
}
