import type { BoardRow } from '@gavrin/core'
import { type ComponentType, Suspense, lazy, useState } from 'react'
import { Button } from 'react-bootstrap'
import type { ReminderDialogProps } from './ReminderDialog'

const ReminderDialog = lazy<ComponentType<ReminderDialogProps>>(() => import('./ReminderDialog'))

interface Props {
  readonly handout: { readonly id: string; readonly classId: string }
  readonly rows: readonly BoardRow[]
  readonly small?: boolean
}

/** Opens whom of these copies can be written to. */
export function ReminderButton({ handout, rows, small }: Props) {
  const [isOpen, setIsOpen] = useState(false)
  return (
    <>
      <Button
        variant="outline-dark"
        {...(small && { size: 'sm' as const })}
        disabled={rows.length === 0}
        onClick={() => setIsOpen(true)}
      >
        Write to them …
      </Button>
      {isOpen && (
        <Suspense>
          <ReminderDialog handout={handout} rows={rows} close={() => setIsOpen(false)} />
        </Suspense>
      )}
    </>
  )
}
