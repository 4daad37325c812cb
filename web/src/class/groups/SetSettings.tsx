import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../../ui/Notice'
import { TextField } from '../../ui/TextField'
import { api } from '../../ui/api'
import { problemAt, problemBeside } from '../../ui/problems'
import { OpenTimesFields } from '../OpenTimesFields'
import { type GroupSet, groupsKey } from '../queries'
import type { Bodies } from '../../contract'

interface Props {
  readonly classId: string
  readonly set: GroupSet
  readonly close: () => void
}

/** What a set is called, and when and where students may sign up. */
export function SetSettings({ classId, set, close }: Props) {
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
      const places = set.groups.flatMap((group) => {
        const limit = limits[group.id]?.trim() ? Number(limits[group.id]) : null
        return group.id in limits && limit !== group.places ? [{ groupId: group.id, places: limit }] : []
      })
      await api.put(`group-sets/${set.id}`, {
        name,
        balanceColumn: set.balanceColumn,
        signUp,
        places,
      } satisfies Bodies['PUT group-sets/{setId}'])
      await client.invalidateQueries({ queryKey: groupsKey(classId) })
      close()
    } catch (error) {
      setProblem(error)
      setBusy(false)
    }
  }
  const beside = problemBeside(problem, ['name', 'signUp.closesAt', ...set.groups.map(({ id }) => `places.${id}`)])
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>
            Settings of <bdi>{set.name}</bdi>
          </Modal.Title>
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
                <Form.Group key={group.id} controlId={`places-${group.id}`}>
                  <Form.Label>{group.name}</Form.Label>
                  <Form.Control
                    size="sm"
                    type="number"
                    min={1}
                    max={500}
                    value={limits[group.id] ?? ''}
                    isInvalid={problemAt(problem, `places.${group.id}`) !== undefined}
                    onChange={({ target }) => setLimits({ ...limits, [group.id]: target.value })}
                  />
                  <Form.Control.Feedback type="invalid">
                    {problemAt(problem, `places.${group.id}`)}
                  </Form.Control.Feedback>
                </Form.Group>
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
