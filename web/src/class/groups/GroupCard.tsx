import type { Group, GroupNote } from '@gavrin/core'
import { useDroppable } from '@dnd-kit/core'
import type { ReactNode } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Menu } from '../../ui/Menu'

interface Props {
  readonly group: Group
  /** Its place in the set, which is the key that moves somebody here. */
  readonly number: number
  readonly size: number
  /** What the balanced column says of each member. */
  readonly values: readonly string[]
  readonly note: GroupNote | undefined
  readonly may: boolean
  readonly rename: () => void
  readonly remove: () => void
  readonly children: ReactNode
}

/** A group with who is in it: its size and balance at a glance. */
export function GroupCard({ group, number, size, values, note, may, rename, remove, children }: Props) {
  const { setNodeRef, isOver } = useDroppable({ id: group.id })
  const sorted = values.filter(Boolean).toSorted((a, b) => a.localeCompare(b, undefined, { numeric: true }))
  return (
    <section ref={setNodeRef} className={isOver ? 'group-card over' : 'group-card'} aria-label={group.name}>
      <header>
        <h3>
          {number <= 9 && <kbd aria-hidden="true">{number}</kbd>} <bdi>{group.name}</bdi>
        </h3>
        <span className={note ? 'warn' : 'soft'} title={note?.sentence}>
          {size}
          {group.places !== null && ` of ${group.places}`}
          {sorted.length > 0 && ` · ${sorted.join(' ')}`}
          {note && <span className="visually-hidden">{note.sentence}</span>}
        </span>
        {may && (
          <Menu label="···" name={`··· More for the group ${group.name}`} variant="link" small align="end">
            <Dropdown.Item onClick={rename}>Rename it</Dropdown.Item>
            <Dropdown.Item onClick={remove}>
              Take it away{' '}
              {size > 0 && (
                <span className="soft">{size === 1 ? 'its student is' : `its ${size} are`} in no group then</span>
              )}
            </Dropdown.Item>
          </Menu>
        )}
      </header>
      {children}
      {note && note.code !== 'empty' && (
        <p className="group-note">{note.code === 'alone' ? 'one alone' : 'more than five'}</p>
      )}
    </section>
  )
}
