import type { RichNode } from '@gavrin/core'
import { Fragment, type ReactNode } from 'react'

/** Print, as it stands on the page. */
export function RichText({ node }: { readonly node: RichNode }): ReactNode {
  if (node.type === 'text') return marked(node)
  const inner = (node.content ?? []).map((child, index) => <RichText key={index} node={child} />)
  switch (node.type) {
    case 'heading':
      return node.attrs?.['level'] === 1 ? (
        <h2>{inner}</h2>
      ) : node.attrs?.['level'] === 2 ? (
        <h3>{inner}</h3>
      ) : (
        <h4>{inner}</h4>
      )
    case 'bulletList':
      return <ul>{inner}</ul>
    case 'orderedList':
      return <ol start={Number(node.attrs?.['start'] ?? 1)}>{inner}</ol>
    case 'listItem':
      return <li>{inner}</li>
    case 'hardBreak':
      return <br />
    default:
      return <p dir="auto">{inner}</p>
  }
}

function marked({ text, marks = [] }: RichNode): ReactNode {
  return marks.reduce<ReactNode>(
    (inner, { type }) => {
      if (type === 'bold') return <strong>{inner}</strong>
      if (type === 'italic') return <em>{inner}</em>
      return type === 'underline' ? <u>{inner}</u> : inner
    },
    <Fragment>{text}</Fragment>,
  )
}
