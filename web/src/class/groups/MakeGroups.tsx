import type { Arrangement } from '@gavrin/core'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../../ui/Notice'
import type { ClassOpened, GroupSet, Student } from '../queries'
import { MakingFields } from './MakingFields'
import { type Making, makeArrangement } from './making'
import { arrangementOf } from './useArrangement'

interface Props {
  readonly opened: ClassOpened
  readonly students: readonly Student[]
  readonly set: GroupSet
  /** `balance`: the columns that were spread evenly. */
  readonly made: (arrangement: Arrangement, balance: readonly string[]) => Promise<void>
  readonly close: () => void
}

/** Makes the groups of a set again: kept places and pairs hold, everything else is thrown anew. */
export function MakeGroups({ opened, students, set, made, close }: Props) {
  const [making, setMaking] = useState<Making>({
    by: set.groups.length ? 'number' : 'size',
    amount: set.groups.length || 4,
    balance: set.balanceColumn ? [set.balanceColumn] : [],
  })
  const [problem, setProblem] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const kept = set.locked.filter((id) => students.some(({ personId }) => personId === id)).length
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    setBusy(true)
    const outcome = await makeArrangement(students, arrangementOf(set), making)
    setBusy(false)
    if (!outcome.ok) return setProblem(outcome.problems[0]!.sentence)
    close()
    await made(outcome.value, making.balance)
  }
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>Make groups</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <MakingFields
            making={making}
            change={(next) => {
              setMaking(next)
              setProblem(null)
            }}
            people={students.length}
            columns={opened.columns}
          />
          <p className="soft mt-2 mb-0">
            {kept ? `${kept} kept where they are. ` : ''}
            {set.pairs.length ? `${set.pairs.length} together or apart. ` : ''}
            Names of groups stay; “Undo” brings the groups of before back.
          </p>
          {problem && <Notice kind="bad">{problem}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit" disabled={busy || making.amount < 1}>
            {busy ? 'Making groups …' : 'Make groups'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
