import type { BoardRow } from '@gavrin/core'
import { type ComponentType, Suspense, lazy, useState } from 'react'
import { Button } from 'react-bootstrap'

import type { Acted } from '../ui/ActedLine'
import type { PensDialogProps } from './PensDialog'

const PensDialog = lazy<ComponentType<PensDialogProps>>(() => import('./PensDialog'))

interface Props {
  readonly handout: { readonly id: string; readonly classId: string; readonly dueAt: number | null }
  readonly rows: readonly BoardRow[]
  readonly done: (acted: Acted) => void
  readonly small?: boolean
}

/** Opens what can be done with the pens of these copies. */
export function PensButton({ handout, rows, done, small }: Props) {
  const [isOpen, setIsOpen] = useState(false)
  return (
    <>
      <Button
        variant="outline-dark"
        {...(small && { size: 'sm' as const })}
        disabled={rows.length === 0}
        onClick={() => setIsOpen(true)}
      >
        Pens …
      </Button>
      {isOpen && (
        <Suspense>
          <PensDialog handout={handout} rows={rows} done={done} close={() => setIsOpen(false)} />
        </Suspense>
      )}
    </>
  )
}
