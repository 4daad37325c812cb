import { type FileSpace, HANDED_IN_BYTES } from '@gavrin/core'
import { useMutation } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { sentenceOf } from '../ui/api'
import { HandedIn } from './HandedIn'
import { ownHistory, undoIn } from './ownUndo'
import type { SpaceProps } from './place'
import { useSheet } from './surroundings'
import { useAnswer } from './useAnswer'

/** A place to hand in photographs and documents. */
export function FileField({ space, doc, label }: SpaceProps<FileSpace>) {
  const id = useId()
  const { files } = useSheet()
  const [tooLarge, setTooLarge] = useState<readonly string[]>([])
  const value = useAnswer(space, doc)
  const kept = 'files' in value ? value.files : []
  const map = doc.getMap<string>('file')
  const history = ownHistory(doc, space, 0)
  const [takenOut, setTakenOut] = useState<string | null>(null)
  const add = useMutation({
    mutationFn: async (chosen: readonly File[]) => {
      for (const file of chosen.slice(0, space.most - kept.length)) {
        const { id: fileId, name } = await files!.add(space.id, file)
        map.set(fileId, name)
        setTakenOut(null)
      }
    },
  })
  const left = space.most - kept.length
  return (
    <div className="handed-in" role="group" aria-label={label}>
      <HandedIn
        files={kept}
        remove={(fileId) => {
          setTakenOut(kept.find(({ id: one }) => one === fileId)?.name ?? null)
          map.delete(fileId)
        }}
      />
      {takenOut !== null && (
        <p className="soft" role="status">
          <bdi>{takenOut}</bdi> is taken out.{' '}
          <button
            type="button"
            className="btn btn-sm btn-link"
            onClick={() => {
              undoIn(history)
              setTakenOut(null)
            }}
          >
            Put it back
          </button>
        </p>
      )}
      {left > 0 && files && (
        <label htmlFor={id}>
          <span className="soft">
            {kept.length === 0 ? 'A photograph or a document' : 'Another one'}: any kind of file, up to{' '}
            {HANDED_IN_BYTES / 1_000_000} MB
            {space.most > 1 && `, ${left} more at most`}
          </span>
          <input
            id={id}
            type="file"
            className="form-control"
            multiple={left > 1}
            disabled={add.isPending}
            onChange={({ target }) => {
              const chosen = [...(target.files ?? [])]
              // Said here, before megabytes go over a slow line.
              const fitting = chosen.filter(({ size }) => size <= HANDED_IN_BYTES)
              setTooLarge(chosen.filter((file) => !fitting.includes(file)).map(({ name }) => name))
              if (fitting.length) add.mutate(fitting)
              target.value = ''
            }}
          />
        </label>
      )}
      <span role="status">{add.isPending && 'handing in …'}</span>
      {tooLarge.length > 0 && (
        <p className="bad" role="alert">
          {tooLarge.join(', ')}: a file has up to {HANDED_IN_BYTES / 1_000_000} MB. Hand in a smaller one.
        </p>
      )}
      {add.error && (
        <p className="bad" role="alert">
          {sentenceOf(add.error)}
        </p>
      )}
    </div>
  )
}
