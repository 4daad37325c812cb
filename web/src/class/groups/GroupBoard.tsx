import {
  type Arrangement,
  type Group,
  checkArrangement,
  foldText,
  fullName,
  groupNames,
  groupNotes,
  joined,
  nameOrder,
} from '@gavrin/core'
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
import { type KeyboardEvent, type ReactNode, useLayoutEffect, useRef, useState } from 'react'
import { Button, Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { Menu } from '../../ui/Menu'
import { Notice } from '../../ui/Notice'
import { ApiError } from '../../ui/api'
import { AskName } from '../AskName'
import type { ClassOpened, GroupSet, Student } from '../queries'
import { GroupCard } from './GroupCard'
import { MakeGroups } from './MakeGroups'
import { Pairs } from './Pairs'
import { PersonChip } from './PersonChip'
import { SetSettings } from './SetSettings'
import { arrangementOf, useArrangement } from './useArrangement'

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
  const board = useRef<HTMLDivElement>(null)
  const moving = useRef<string | null>(null)
  const work = useArrangement(opened.id, set)
  const [dragged, setDragged] = useState<string | null>(null)
  const [asking, setAsking] = useState<'make' | 'settings' | 'group' | { rename: Group } | null>(null)
  const [said, setSaid] = useState('')
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const byId = new Map(students.map((student) => [student.personId, student]))
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

  const toggle = (personId: string) => {
    const next = new Set(selected)
    if (!next.delete(personId)) next.add(personId)
    setSelected(next)
  }
  /** Moves somebody, and all who are selected with them. */
  const move = async (personId: string, groupId: string | null) => {
    const student = byId.get(personId)
    const to = set.groups.find(({ id }) => id === groupId)
    if (!may || !student || (groupId !== null && !to)) return
    moving.current = personId
    const ids = selected.has(personId) ? [...selected].filter((id) => byId.has(id)) : [personId]
    await work.move(ids, groupId)
    setSelected(new Set())
    const who = ids.length === 1 ? `${fullName(student)} is` : `${ids.length} students are`
    setSaid(`${who} now in ${to ? to.name : 'no group'}.`)
  }
  // A name that was moved is drawn anew somewhere else: the focus goes with it.
  useLayoutEffect(() => {
    const personId = moving.current
    if (!personId || document.activeElement !== document.body) return
    moving.current = null
    board.current?.querySelector<HTMLElement>(`[data-person="${personId}"]`)?.focus()
  })
  const dropped = ({ active, over }: DragEndEvent) => {
    setDragged(null)
    if (over) void move(String(active.id), over.id === NOBODY ? null : String(over.id))
  }
  const pressed = (event: KeyboardEvent) => {
    const control = event.ctrlKey || event.metaKey
    if (control && event.key.toLowerCase() === 'z') {
      event.preventDefault()
      void (event.shiftKey ? work.redo() : work.undo())
      return
    }
    if (event.key === 'Escape') setSelected(new Set())
    const personId = (event.target as HTMLElement).dataset['person']
    if (!personId || control || event.altKey) return
    if (event.key === ' ') {
      event.preventDefault()
      if (may) toggle(personId)
      return
    }
    if (/^[0-9]$/.test(event.key)) {
      event.preventDefault()
      const group = set.groups[Number(event.key) - 1]
      if (event.key === '0' || group) void move(personId, group?.id ?? null)
      return
    }
    const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key]
    if (!step) return
    event.preventDefault()
    const names = [...(board.current?.querySelectorAll<HTMLElement>('[data-person]') ?? [])]
    const at = names.findIndex((name) => name.dataset['person'] === personId)
    names[at + step]?.focus()
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
      move={(groupId) => void move(student.personId, groupId)}
      lock={() => lock(student.personId)}
      selected={selected.has(student.personId)}
      select={() => toggle(student.personId)}
    />
  )

  return (
    <>
      <div className="set-head no-print">
        <h2>{set.name}</h2>
        <span className="soft">
          {set.groups.length} {set.groups.length === 1 ? 'group' : 'groups'}
          {column && `, showing ${column.name}`}
          {set.signUp.open && ' · students sign up'}
        </span>
        <span className="tools-end">
          {may && (
            <>
              <Button size="sm" variant="link" disabled={!work.steps.undo} onClick={() => void work.undo()}>
                Undo
              </Button>
              <Button size="sm" variant="link" disabled={!work.steps.redo} onClick={() => void work.redo()}>
                Redo
              </Button>
              <Button size="sm" variant="outline-dark" onClick={() => setAsking('make')}>
                {placed.size ? 'Make the groups anew' : 'Make groups'}
              </Button>
              <Button size="sm" variant="outline-dark" onClick={() => setAsking('group')}>
                Add a group
              </Button>
              <Button size="sm" variant="outline-dark" onClick={() => setAsking('settings')}>
                Settings
              </Button>
            </>
          )}
          <Menu label="More" name={`More for ${set.name}`} small align="end">
            <Dropdown.Item as={Link} to={`/class/${opened.id}/groups/print?set=${set.id}`}>
              Group lists to print
            </Dropdown.Item>
            {may && set.different.length > 0 && (
              <Dropdown.Item onClick={() => void work.askAgain()}>Ask again about names that look alike</Dropdown.Item>
            )}
            {may && <Dropdown.Item onClick={remove}>Take this set away</Dropdown.Item>}
          </Menu>
        </span>
      </div>
      {work.problem && <Notice kind="bad">{work.problem}</Notice>}
      {notes
        .filter(({ code }) => code === 'twins' || code === 'pair-broken')
        .map(({ code, sentence, groupIds: [keep, other] }) => (
          <Notice key={sentence} kind="look">
            {sentence}
            {code === 'twins' && may && (
              <Button
                size="sm"
                variant="outline-dark"
                className="notice-act"
                onClick={() => change(joined(arrangement, keep!, other!))}
              >
                Join them as {set.groups.find(({ id }) => id === keep)?.name}
              </Button>
            )}
            {code === 'twins' && may && (
              <Button
                size="sm"
                variant="outline-dark"
                className="notice-act"
                onClick={() => void work.tellApart(keep!, other!)}
              >
                These are two groups
              </Button>
            )}
          </Notice>
        ))}
      <DndContext
        sensors={sensors}
        collisionDetection={pointerWithin}
        onDragStart={({ active }) => setDragged(String(active.id))}
        onDragCancel={() => setDragged(null)}
        onDragEnd={dropped}
      >
        <div className="group-board" ref={board} onKeyDown={pressed}>
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
              {selected.has(lifted.personId) && selected.size > 1 ? `${selected.size} students` : fullName(lifted)}
            </span>
          )}
        </DragOverlay>
      </DndContext>
      {may && (
        <footer className="group-foot no-print">
          <Pairs students={students} pairs={set.pairs} change={(pairs) => change({ ...arrangement, pairs })} />
          <span className="soft">
            {selected.size > 0 ? (
              <>
                <b>{selected.size} selected</b>: drag one of them, or press a number.{' '}
                <Button size="sm" variant="link" onClick={() => setSelected(new Set())}>
                  Select nobody
                </Button>
              </>
            ) : (
              <>
                Drag a name, or go to it and press <kbd>1</kbd>–<kbd>{Math.min(9, Math.max(1, set.groups.length))}</kbd>{' '}
                for a group, <kbd>0</kbd> for none. Click names (or <kbd>Space</kbd>) to move several at once.
              </>
            )}
          </span>
        </footer>
      )}
      <span className="visually-hidden" role="status">
        {said}
      </span>
      {asking === 'make' && (
        <MakeGroups
          opened={opened}
          students={students}
          set={set}
          close={() => setAsking(null)}
          made={async (next, balance) => {
            // What was spread evenly is what the groups show from now on.
            const [first] = balance
            if ((await work.arrange(next)) && first && !balance.includes(set.balanceColumn ?? ''))
              await work.showColumn(first)
          }}
        />
      )}
      {asking === 'settings' && <SetSettings classId={opened.id} set={set} close={() => setAsking(null)} />}
      {asking === 'group' && (
        <AskName
          title="Add a group"
          label="Name of the group"
          name={
            groupNames(
              1,
              set.groups.map(({ name }) => name),
            )[0]!
          }
          done="Add it"
          close={() => setAsking(null)}
          keep={(name) =>
            keepNamed(work, {
              ...arrangement,
              groups: [...set.groups, { id: crypto.randomUUID(), name, places: null, personIds: [] }],
            })
          }
        />
      )}
      {asking !== null && typeof asking === 'object' && (
        <AskName
          title="Rename the group"
          label="Name of the group"
          name={asking.rename.name}
          done="Rename it"
          close={() => setAsking(null)}
          keep={(name) => {
            // Renamed to what another one is called, two become one.
            const other = set.groups.find(
              (group) => group.id !== asking.rename.id && foldText(group.name) === foldText(name),
            )
            return keepNamed(
              work,
              other
                ? joined(arrangement, other.id, asking.rename.id)
                : {
                    ...arrangement,
                    groups: set.groups.map((group) => (group.id === asking.rename.id ? { ...group, name } : group)),
                  },
            )
          }}
        />
      )}
    </>
  )
}

async function keepNamed(work: ReturnType<typeof useArrangement>, next: Arrangement): Promise<void> {
  const checked = checkArrangement(next)
  if (!checked.ok) throw new ApiError(422, 'group-name', checked.problems[0]!.sentence, checked.problems)
  await work.arrange(checked.value)
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
