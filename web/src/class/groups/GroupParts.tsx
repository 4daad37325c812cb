import { type groupNotes, joined } from '@gavrin/core'
import { Button, Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { Menu } from '../../ui/Menu'
import { Notice } from '../../ui/Notice'
import type { ClassOpened, GroupSet, Student } from '../queries'
import { Pairs } from './Pairs'
import { arrangementOf, type useArrangement } from './useArrangement'

/** What is asked for in a dialog. */
export type GroupAsk = 'make' | 'settings' | 'group'

interface Props {
  readonly set: GroupSet
  readonly work: ReturnType<typeof useArrangement>
  readonly may: boolean
}

/** The name of a set and what can be done with it as a whole. */
export function GroupSetHead({
  opened,
  set,
  work,
  may,
  ask,
  remove,
}: Props & {
  readonly opened: ClassOpened
  readonly ask: (what: GroupAsk) => void
  readonly remove: () => void
}) {
  const column = opened.columns.find(({ id }) => id === set.balanceColumn)
  const hasPeople = set.groups.some(({ personIds }) => personIds.length > 0)
  return (
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
            <Button size="sm" variant="outline-dark" onClick={() => ask('make')}>
              {hasPeople ? 'Make the groups anew' : 'Make groups'}
            </Button>
            <Button size="sm" variant="outline-dark" onClick={() => ask('group')}>
              Add a group
            </Button>
            <Button size="sm" variant="outline-dark" onClick={() => ask('settings')}>
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
  )
}

/** What strikes in the groups and concerns several of them, with what can be done about it. */
export function GroupNotices({ set, work, may, notes }: Props & { readonly notes: ReturnType<typeof groupNotes> }) {
  const arrangement = arrangementOf(set)
  return (
    <>
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
                onClick={() => void work.arrange(joined(arrangement, keep!, other!))}
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
    </>
  )
}

/** Who is to be together or apart, and how names are moved. */
export function GroupFoot({
  set,
  work,
  students,
  selected,
  clear,
}: Omit<Props, 'may'> & {
  readonly students: readonly Student[]
  readonly selected: number
  readonly clear: () => void
}) {
  return (
    <footer className="group-foot no-print">
      <Pairs
        students={students}
        pairs={set.pairs}
        change={(pairs) => void work.arrange({ ...arrangementOf(set), pairs })}
      />
      <span className="soft">
        {selected > 0 ? (
          <>
            <b>{selected} selected</b>: drag one of them, or press a number.{' '}
            <Button size="sm" variant="link" onClick={clear}>
              Select nobody
            </Button>
          </>
        ) : (
          <>
            Drag a name, or go to it and press <kbd>1</kbd>–<kbd>{Math.min(9, Math.max(1, set.groups.length))}</kbd> for
            a group, <kbd>0</kbd> for none. Click names (or <kbd>Space</kbd>) to move several at once.
          </>
        )}
      </span>
    </footer>
  )
}
