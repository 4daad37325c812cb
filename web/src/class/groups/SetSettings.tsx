import type { Group } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../../ui/Notice'
import { TextField } from '../../ui/TextField'
import { ApiError, api } from '../../ui/api'
import { problemAt, problemBeside } from '../../ui/problems'
import { OpenTimesFields } from '../OpenTimesFields'
import { type GroupSet, groupsKey } from '../queries'

interface Props {
  readonly classId: string
  readonly set: GroupSet
  readonly places: (groups: readonly Group[]) => Promise<boolean>
  readonly close: () => void
}

/** What a set is called, and when and where students may sign up. */
export function SetSettings({ classId, set, places, close }: Props) {
  const client = useQueryClient()
  const [name, setName] = useState(set.name)
  const [signUp, setSignUp] = useState(set.signUp)
  const [limits, setLimits] = useState<Readonly<Record<string, string>>>(() =>
    Object.fromEntries(set.groups.map((group) => [group.id, group.places === null ? '' : String(group.places)])),
  )
  const [problem, setProblem] = useState<unknown>(null)
  const [busy, setBusy] = useState(false)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    setBusy(true)
    try {
      const groups = set.groups.map((group) => ({ ...group, places: Number(limits[group.id]) || null }))
      if (groups.some((group, at) => group.places !== set.groups[at]!.places) && !(await places(groups)))
        throw new ApiError(409, 'groups-changed', 'The groups were changed meanwhile: open this again.')
      await api.put(`group-sets/${set.id}`, { name, balanceColumn: set.balanceColumn, signUp })
      await client.invalidateQueries({ queryKey: groupsKey(classId) })
      close()
    } catch (error) {
      setProblem(error)
      setBusy(false)
    }
  }
  const beside = problemBeside(problem, ['name', 'signUp.closesAt'])
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>Sign-up and name</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <TextField
            id="set-rename"
            label="Name of the set"
            value={name}
            change={setName}
            problem={problemAt(problem, 'name')}
          />
          <OpenTimesFields
            id="sign-up"
            label="Students may sign up for a group"
            times={signUp}
            change={setSignUp}
            problem={problemAt(problem, 'signUp.closesAt')}
          />
          {signUp.open && set.groups.length > 0 && (
            <fieldset className="places">
              <legend>Places (empty: no limit)</legend>
              {set.groups.map((group) => (
                <label key={group.id}>
                  <span>{group.name}</span>
                  <Form.Control
                    size="sm"
                    type="number"
                    min={1}
                    max={500}
                    value={limits[group.id] ?? ''}
                    onChange={({ target }) => setLimits({ ...limits, [group.id]: target.value })}
                  />
                </label>
              ))}
            </fieldset>
          )}
          {signUp.open && set.groups.length === 0 && (
            <Notice kind="look">There is no group to sign up for yet: add groups first.</Notice>
          )}
          {beside && <Notice kind="bad">{beside}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit" disabled={busy}>
            Keep
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
