import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { Loaded } from '../ui/Loaded'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'

type Kept = Answers['GET office/scales'][number]

const KEY = ['office', 'scales']

const parted = (text: string): string[] =>
  text
    .split(/[,;\n]/)
    .map((one) => one.trim())
    .filter(Boolean)

/** The scales that the classes of the school are marked by. */
export function OfficeScales({ close }: { readonly close: () => void }) {
  const client = useQueryClient()
  const scales = useQuery({ queryKey: KEY, queryFn: () => api.get<Kept[]>('office/scales') })
  const [edited, setEdited] = useState<Kept | null>(null)
  const renew = () => client.invalidateQueries({ queryKey: KEY })
  const remove = useMutation({ mutationFn: ({ id }: Kept) => api.delete(`office/scales/${id}`), onSettled: renew })
  const bringBack = useMutation({
    mutationFn: ({ id, name, steps, from }: Kept) =>
      api.put(`office/scales/${id}`, {
        name,
        steps: [...steps],
        from: from && [...from],
      } satisfies Bodies['PUT office/scales/{scaleId}']),
    onSuccess: () => remove.reset(),
    onSettled: renew,
  })
  return (
    <Modal show onHide={close} aria-labelledby="scales-title">
      <Modal.Header closeButton>
        <Modal.Title id="scales-title">Scales of the school</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="soft">
          Every slip can be marked by them. What was handed out keeps the scale that it was handed out with.
        </p>
        <Loaded query={scales}>
          {(all) => (
            <ul className="office-scales">
              {all.map((scale) => (
                <li key={scale.id}>
                  <span>
                    <bdi>{scale.name}</bdi>{' '}
                    <span className="soft">
                      {scale.steps
                        .map((step, at) => (scale.from ? `${step} from ${scale.from[at]} %` : step))
                        .join(', ')}
                    </span>
                  </span>
                  <Button size="sm" variant="link" onClick={() => setEdited(scale)}>
                    Change
                  </Button>
                  <Button
                    size="sm"
                    variant="link"
                    aria-label={`Take ${scale.name} out`}
                    onClick={() => remove.mutate(scale)}
                  >
                    ×
                  </Button>
                </li>
              ))}
              {all.length === 0 && <li className="soft">There are none yet.</li>}
            </ul>
          )}
        </Loaded>
        {remove.isSuccess && (
          <p className="soft" role="status">
            <bdi>{remove.variables.name}</bdi> is taken out.{' '}
            <Button size="sm" variant="link" onClick={() => bringBack.mutate(remove.variables)}>
              Undo
            </Button>
          </p>
        )}
        {remove.error && <p className="bad">{sentenceOf(remove.error)}</p>}
        {edited ? (
          <ScaleFields key={edited.id} scale={edited} done={() => setEdited(null)} renew={renew} />
        ) : (
          <Button
            size="sm"
            variant="outline-dark"
            onClick={() => setEdited({ id: newUuid(), classId: null, name: '', steps: [], from: null })}
          >
            Add a scale
          </Button>
        )}
      </Modal.Body>
    </Modal>
  )
}

function ScaleFields({
  scale,
  done,
  renew,
}: {
  readonly scale: Kept
  readonly done: () => void
  readonly renew: () => Promise<unknown>
}) {
  const [name, setName] = useState(scale.name)
  const [steps, setSteps] = useState(scale.steps.join(', '))
  const [from, setFrom] = useState(scale.from?.join(', ') ?? '')
  const keep = useMutation({
    mutationFn: () =>
      api.put(`office/scales/${scale.id}`, {
        name,
        steps: parted(steps),
        from: from.trim() ? parted(from).map((one) => Number.parseInt(one, 10)) : null,
      } satisfies Bodies['PUT office/scales/{scaleId}']),
    onSuccess: done,
    onSettled: renew,
  })
  const isNumbers = parted(from).every((one) => /^\d{1,3}\s*%?$/.test(one))
  return (
    <form
      className="scale-fields"
      onSubmit={(event) => {
        event.preventDefault()
        if (isNumbers) keep.mutate()
      }}
    >
      <Form.Group controlId="scale-name">
        <Form.Label>Name</Form.Label>
        <Form.Control
          size="sm"
          autoFocus
          maxLength={80}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
      </Form.Group>
      <Form.Group controlId="scale-steps">
        <Form.Label>Steps, best first, with commas between</Form.Label>
        <Form.Control size="sm" value={steps} onChange={({ target }) => setSteps(target.value)} />
      </Form.Group>
      <Form.Group controlId="scale-from">
        <Form.Label>From how many per cent each is reached; left empty, a step is given by hand</Form.Label>
        <Form.Control
          size="sm"
          placeholder="80, 50, 0"
          value={from}
          isInvalid={!isNumbers}
          onChange={({ target }) => setFrom(target.value)}
        />
        <Form.Control.Feedback type="invalid">Whole numbers of per cent, with commas between.</Form.Control.Feedback>
      </Form.Group>
      {keep.error && (
        <p className="bad" role="alert">
          {sentenceOf(keep.error)}
        </p>
      )}
      <div className="scale-acts">
        <Button size="sm" type="submit" disabled={keep.isPending}>
          Keep
        </Button>
        <Button size="sm" variant="link" onClick={done}>
          Cancel
        </Button>
      </div>
    </form>
  )
}
