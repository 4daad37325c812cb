import type { Scale } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'

type Kept = Answers['GET classes/{classId}/scales'][number]

interface Props {
  /** Null: the handout is for no class yet. */
  readonly classId: string | null
  readonly className: string
  readonly scale: Scale
  readonly use: (scale: Scale) => void
}

/** The scales of the class and of the school, to be taken; and this one kept for the class. */
export function Scales({ classId, className, scale, use }: Props) {
  const client = useQueryClient()
  const key = ['class', classId, 'scales']
  const [name, setName] = useState('')
  const kept = useQuery({
    queryKey: key,
    queryFn: () => api.get<Kept[]>(`classes/${classId}/scales`),
    enabled: classId !== null,
  })
  const renew = () => client.invalidateQueries({ queryKey: key })
  const keep = useMutation({
    mutationFn: () => {
      // Under a name that the class has already, it takes that one's place.
      const known = kept.data?.find((one) => one.classId === classId && one.name === name.trim())
      return api.put(`classes/${classId}/scales/${known?.id ?? newUuid()}`, {
        name,
        steps: [...scale.steps],
        from: scale.from && [...scale.from],
      } satisfies Bodies['PUT classes/{classId}/scales/{scaleId}'])
    },
    onSuccess: () => setName(''),
    onSettled: renew,
  })
  const remove = useMutation({
    mutationFn: (id: string) => api.delete(`classes/${classId}/scales/${id}`),
    onSettled: renew,
  })
  if (classId === null) return null
  const trouble = keep.error ?? remove.error
  return (
    <div className="scales">
      {kept.data?.map((one) => (
        <div key={one.id} className="recipe-line">
          <button
            type="button"
            className="btn btn-link btn-sm"
            onClick={() => use({ steps: one.steps, from: one.from })}
          >
            <bdi>{one.name}</bdi>{' '}
            <span className="soft">
              <bdi>{one.steps.join(', ')}</bdi>
              {one.classId === null && ' · the school’s'}
            </span>
          </button>
          {one.classId !== null && (
            <Button
              variant="link"
              size="sm"
              aria-label={`Take the scale ${one.name} out of the class`}
              onClick={() => remove.mutate(one.id)}
            >
              ×
            </Button>
          )}
        </div>
      ))}
      <form
        className="recipe-new"
        onSubmit={(event) => {
          event.preventDefault()
          keep.mutate()
        }}
      >
        <Form.Control
          size="sm"
          aria-label={`Name of this scale, to keep it for ${className}`}
          placeholder={`Keep it for ${className} as …`}
          maxLength={80}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <Button type="submit" size="sm" variant="outline-dark" disabled={!name.trim() || keep.isPending}>
          Keep
        </Button>
      </form>
      {trouble && <div className="bad">{sentenceOf(trouble)}</div>}
    </div>
  )
}
