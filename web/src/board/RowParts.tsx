import { type BoardRow, arePensDown, isOverdue } from '@gavrin/core'
import type { ReactNode } from 'react'
import { SheetMark } from '../ui/SheetMark'

/** The state of a copy as its mark, with what is to be seen of its pens and its due time. */
export const RowMark = ({ row, now }: { readonly row: BoardRow; readonly now: number }) => (
  <SheetMark
    state={row.state}
    share={row.spaces ? row.answered / row.spaces : 0}
    pensDown={arePensDown(row, now)}
    overdue={isOverdue(row, now)}
  />
)

interface Props {
  readonly row: BoardRow
  readonly isChosen: boolean
  readonly choose: (copyId: string) => void
  readonly children: ReactNode
}

/** Whose copy it is: opens it beside the rows. */
export const RowButton = ({ row, isChosen, choose, children }: Props) => (
  <button
    type="button"
    className="row-button"
    aria-expanded={isChosen}
    title={row.title}
    onClick={(event) => {
      event.stopPropagation()
      choose(row.copyId)
    }}
  >
    <bdi>{children}</bdi>
  </button>
)
