import { useDraggable } from '@dnd-kit/core'
import { type ReactNode, useEffect } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { exactTime, timeInWords } from '../ui/time'
import { PinMark } from './PinMark'
import { Thumbnail } from './Thumbnail'
import type { WorksheetListed } from './queries'

interface Props {
  readonly worksheet: WorksheetListed
  readonly isChosen: boolean
  readonly choose: (on: boolean) => void
  readonly menu: ReactNode
}

/** A worksheet of the library as its first page; dragged to a folder by it. */
export function PageCard({ worksheet, isChosen, choose, menu }: Props) {
  const { id, title, pinned, isOwner, owner, updatedAt, copies, version } = worksheet
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({ id, disabled: !isOwner })
  const { role: _, tabIndex: __, ...described } = attributes
  useEffect(() => {
    if (!isDragging) return
    // Letting go over the page's link is no click on it.
    const noClick = (event: MouseEvent) => event.preventDefault()
    window.addEventListener('click', noClick, { capture: true })
    return () => {
      setTimeout(() => window.removeEventListener('click', noClick, { capture: true }))
    }
  }, [isDragging])
  return (
    <li
      ref={setNodeRef}
      className={`page-card${isChosen ? ' chosen' : ''}${isDragging ? ' dragged' : ''}`}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
    >
      <div
        {...listeners}
        {...described}
        role={undefined}
        aria-describedby={undefined}
        aria-roledescription={undefined}
        aria-disabled={undefined}
      >
        <Link to={`/worksheets/${id}`} tabIndex={-1} aria-hidden="true" draggable={false} className="page-link">
          <Thumbnail id={id} version={version} />
        </Link>
      </div>
      <div className="page-words">
        <Form.Check
          aria-label={`Select ${title}`}
          checked={isChosen}
          onChange={({ target }) => choose(target.checked)}
        />
        <Link to={`/worksheets/${id}`} title={title}>
          <bdi>{title}</bdi>
        </Link>
        {pinned && <PinMark />}
        {menu}
      </div>
      <div className="soft page-about">
        {worksheet.edition === null ? (
          <span className="warn">no edition kept yet</span>
        ) : (
          <>edition {worksheet.edition}</>
        )}{' '}
        · {copies} {copies === 1 ? 'copy' : 'copies'}
        <br />
        {isOwner ? (
          <span title={exactTime(updatedAt)}>{timeInWords(updatedAt)}</span>
        ) : (
          <>
            by <bdi>{owner}</bdi>, to {worksheet.may}
          </>
        )}
        {isOwner && worksheet.shared && ' · shared'}
      </div>
    </li>
  )
}
