import { type Arrangement, type Group, fullName, groupNotes, nameOrder } from '@gavrin/core'
import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  MouseSensor,
  TouchSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { type ReactNode, useState } from 'react'
import { Notice } from '../../ui/Notice'
import type { ClassOpened, GroupSet, Student } from '../queries'
import { GroupCard } from './GroupCard'
import { PersonChip } from './PersonChip'
import { arrangementOf, useArrangement } from './useArrangement'
import { useGroupMoves } from './useGroupMoves'
import { GroupDialogs } from './GroupDialogs'
import { type GroupAsk, GroupFoot, GroupNotices, GroupSetHead } from './GroupParts'

interface Props {
  readonly opened: ClassOpened
  /** Who is in the class now. */
  readonly students: readonly Student[]
  readonly set: GroupSet
  readonly may: boolean
  readonly remove: () => void
}

const NOBODY = 'none'

/** A group set: its groups side by side, with who is in none. People are moved by mouse, by touch, and by keyboard. */
export function GroupBoard({ opened, students, set, may, remove }: Props) {
  const work = useArrangement(opened.id, set)
  const [dragged, setDragged] = useState<string | null>(null)
  const [asking, setAsking] = useState<GroupAsk | { rename: Group } | null>(null)
  const byId = new Map(students.map((student) => [student.personId, student]))
  const moves = useGroupMoves(set, byId, work, may)
  const inClass = (group: Group) => group.personIds.flatMap((id) => byId.get(id) ?? [])
  const placed = new Set(set.groups.flatMap(({ personIds }) => personIds))
  const none = students.filter(({ personId }) => !placed.has(personId)).toSorted(nameOrder(navigator.language))
  const notes = groupNotes(set.groups, students, set.pairs, set.different)
  const column = opened.columns.find(({ id }) => id === set.balanceColumn)
  const valueOf = (student: Student) => (column ? (student.cells[column.id] ?? '') : '')
  const arrangement = arrangementOf(set)
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 180, tolerance: 8 } }),
  )

  const dropped = ({ active, over }: DragEndEvent) => {
    setDragged(null)
    if (over) void moves.move(String(active.id), over.id === NOBODY ? null : String(over.id))
  }
  const change = (next: Arrangement) => void work.arrange(next)
  const lock = (personId: string) =>
    change({
      ...arrangement,
      locked: set.locked.includes(personId) ? set.locked.filter((id) => id !== personId) : [...set.locked, personId],
    })
  const lifted = dragged ? byId.get(dragged) : undefined
  const chip = (student: Student) => (
    <PersonChip
      key={student.personId}
      student={student}
      value={valueOf(student)}
      locked={set.locked.includes(student.personId)}
      groups={set.groups}
      may={may}
      move={(groupId) => void moves.move(student.personId, groupId)}
      lock={() => lock(student.personId)}
      selected={moves.selected.has(student.personId)}
      select={() => moves.toggle(student.personId)}
    />
  )

  return (
    <>
      <GroupSetHead opened={opened} set={set} work={work} may={may} ask={setAsking} remove={remove} />
      {work.problem && <Notice kind="bad">{work.problem}</Notice>}
      <GroupNotices set={set} work={work} may={may} notes={notes} />
      <DndContext
        sensors={sensors}
        collisionDetection={pointerWithin}
        onDragStart={({ active }) => setDragged(String(active.id))}
        onDragCancel={() => setDragged(null)}
        onDragEnd={dropped}
      >
        <div className="group-board" ref={moves.board} onKeyDown={moves.pressed}>
          <NoGroup count={none.length}>{none.map(chip)}</NoGroup>
          <div className="group-cards">
            {set.groups.map((group, at) => {
              const people = inClass(group)
              return (
                <GroupCard
                  key={group.id}
                  group={group}
                  number={at + 1}
                  values={column ? people.map(valueOf) : []}
                  size={people.length}
                  note={notes.find(
                    ({ code, groupIds }) =>
                      groupIds[0] === group.id && (code === 'alone' || code === 'crowded' || code === 'empty'),
                  )}
                  may={may}
                  rename={() => setAsking({ rename: group })}
                  remove={() =>
                    change({
                      ...arrangement,
                      groups: set.groups.filter(({ id }) => id !== group.id),
                      locked: set.locked.filter((id) => !group.personIds.includes(id)),
                    })
                  }
                >
                  {people.map(chip)}
                </GroupCard>
              )
            })}
            {set.groups.length === 0 && (
              <p className="soft">There is no group in this set yet: make groups, or add one by name.</p>
            )}
          </div>
        </div>
        <DragOverlay dropAnimation={null}>
          {lifted && (
            <span className="person-chip lifted">
              {moves.selected.has(lifted.personId) && moves.selected.size > 1
                ? `${moves.selected.size} students`
                : fullName(lifted)}
            </span>
          )}
        </DragOverlay>
      </DndContext>
      {may && (
        <GroupFoot set={set} work={work} students={students} selected={moves.selected.size} clear={moves.clear} />
      )}
      <span className="visually-hidden" role="status">
        {moves.said}
      </span>
      <GroupDialogs
        asking={asking}
        opened={opened}
        students={students}
        set={set}
        work={work}
        close={() => setAsking(null)}
      />
    </>
  )
}

function NoGroup({ count, children }: { count: number; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: NOBODY })
  return (
    <section ref={setNodeRef} className={isOver ? 'no-group over' : 'no-group'} aria-label="In no group">
      <h3>
        In no group <span className="soft">{count}</span>
      </h3>
      {count === 0 && <p className="soft">Everybody is in a group.</p>}
      {children}
    </section>
  )
}
