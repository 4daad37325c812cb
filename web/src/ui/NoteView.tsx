import type { NoteNode } from '@gavrin/core'
import type { ReactNode } from 'react'

/** A note as it is read. */
export function NoteView({ note }: { readonly note: NoteNode }) {
  return <div className="note-view">{inside(note)}</div>
}

const inside = (node: NoteNode): ReactNode => (node.content ?? []).map((child, at) => <Node key={at} node={child} />)

function Node({ node }: { readonly node: NoteNode }): ReactNode {
  switch (node.type) {
    case 'text':
      return (node.marks ?? []).reduce<ReactNode>((shown, { type, attrs }) => {
        if (type === 'bold') return <strong>{shown}</strong>
        if (type === 'italic') return <em>{shown}</em>
        const href = typeof attrs?.['href'] === 'string' ? attrs['href'] : ''
        return (
          <a href={href} target="_blank" rel="noreferrer">
            {shown}
          </a>
        )
      }, node.text)
    case 'hardBreak':
      return <br />
    case 'bulletList':
      return <ul>{inside(node)}</ul>
    case 'orderedList':
      return <ol>{inside(node)}</ol>
    case 'listItem':
      return <li>{inside(node)}</li>
    default:
      return <p dir="auto">{inside(node)}</p>
  }
}
