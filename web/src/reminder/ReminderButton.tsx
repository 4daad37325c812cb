import { type BoardRow, remindedOf } from '@gavrin/core'
import { type ComponentType, Suspense, lazy, useState } from 'react'
import { Button } from 'react-bootstrap'
import type { ReminderDialogProps } from './ReminderDialog'

const ReminderDialog = lazy<ComponentType<ReminderDialogProps>>(() => import('./ReminderDialog'))

interface Props {
  readonly handout: { readonly id: string; readonly classId: string }
  readonly rows: readonly BoardRow[]
  readonly now: number
  readonly small?: boolean
}

/** Opens whom of these copies can be reminded. */
export function ReminderButton({ handout, rows, now, small }: Props) {
  const [isOpen, setIsOpen] = useState(false)
  const missing = rows.some((row) => remindedOf(row, now) !== null)
  return (
    <>
      <Button
        variant="outline-dark"
        {...(small && { size: 'sm' as const })}
        disabled={!missing}
        onClick={() => setIsOpen(true)}
      >
        Remind …
      </Button>
      {isOpen && (
        <Suspense>
          <ReminderDialog handout={handout} rows={rows} close={() => setIsOpen(false)} />
        </Suspense>
      )}
    </>
  )
}
