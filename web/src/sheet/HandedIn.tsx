import type { FileAnswer } from '@gavrin/core'
import { useSheet } from './surroundings'

interface Props {
  readonly files: readonly FileAnswer[]
  readonly remove?: (id: string) => void
}

/** The files that were handed in: photographs are shown, documents offered. */
export function HandedIn({ files, remove }: Props) {
  const { files: kept } = useSheet()
  if (files.length === 0) return null
  return (
    <ul>
      {files.map(({ id, name }) => (
        <li key={id}>
          {/\.(png|jpe?g|webp|gif|avif)$/i.test(name) && kept ? <img src={kept.url(id)} alt="" /> : null}
          <a href={kept?.url(id)} target="_blank" rel="noopener noreferrer" dir="auto">
            {name}
          </a>
          {remove && (
            <button type="button" className="btn btn-sm btn-outline-dark" onClick={() => remove(id)}>
              Take out<span className="visually-hidden"> {name}</span>
            </button>
          )}
        </li>
      ))}
    </ul>
  )
}
