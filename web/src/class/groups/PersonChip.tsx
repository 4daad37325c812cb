import { type Group, fullName } from '@gavrin/core'
import { useDraggable } from '@dnd-kit/core'
import { Dropdown } from 'react-bootstrap'
import { Menu } from '../../ui/Menu'
import type { Student } from '../queries'

interface Props {
  readonly student: Student
  /** What the balanced column says; empty for nothing. */
  readonly value: string
  readonly locked: boolean
  readonly groups: readonly Group[]
  readonly may: boolean
  readonly move: (groupId: string | null) => void
  readonly lock: () => void
  /** One of several who are moved together. */
  readonly selected: boolean
  readonly select: () => void
}

/** A student on the group board: dragged, or moved by the keys and the menu. */
export function PersonChip({ student, value, locked, groups, may, move, lock, selected, select }: Props) {
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: student.personId, disabled: !may })
  const name = fullName(student)
  return (
    <div
      ref={setNodeRef}
      className={['person-chip', isDragging && 'dragging', selected && 'selected'].filter(Boolean).join(' ')}
      {...listeners}
    >
      <span
        className="person-name"
        data-person={student.personId}
        tabIndex={0}
        role="button"
        aria-pressed={may ? selected : undefined}
        onClick={may ? select : undefined}
        aria-roledescription={may ? 'student, press a number to move to that group' : undefined}
      >
        <bdi>{name}</bdi>
      </span>
      {locked && (
        <span className="kept" title="stays here when groups are made again">
          kept
        </span>
      )}
      {value && <span className="chip-value">{value}</span>}
      {may && (
        <Menu label="···" name={`··· Move ${name}`} variant="link" small align="end">
          {groups.map((group) => (
            <Dropdown.Item key={group.id} onClick={() => move(group.id)}>
              {group.name}
            </Dropdown.Item>
          ))}
          <Dropdown.Item onClick={() => move(null)}>
            <em>no group</em>
          </Dropdown.Item>
          <Dropdown.Divider />
          <Dropdown.Item onClick={select}>
            {selected ? 'Select no longer' : 'Select, to move several at once'}
          </Dropdown.Item>
          <Dropdown.Item onClick={lock}>
            {locked ? 'May be moved when groups are made again' : 'Keep here when groups are made again'}
          </Dropdown.Item>
        </Menu>
      )}
    </div>
  )
}
