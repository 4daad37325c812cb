import type { GapSpace, Mark, RichNode } from '@gavrin/core'
import { Fragment, type ReactNode } from 'react'
import { Formula } from './Formula'

interface Props {
  readonly node: RichNode
  /** What stands in a gap. */
  readonly gap: (space: GapSpace) => ReactNode
  /** The id of the block that this is the whole of. */
  readonly block?: string
}

/** Print, as it stands on the page. */
export function RichText({ node, gap, block }: Props): ReactNode {
  switch (node.type) {
    case 'text':
      return marked(node)
    case 'hardBreak':
      return <br />
    case 'formula':
      return <Formula tex={String(node.attrs?.['tex'])} large={node.attrs?.['large'] === true} />
    case 'gap':
      return gap(node.attrs!['space'] as GapSpace)
  }
  const inner = (node.content ?? []).map((child, index) => <RichText key={index} node={child} gap={gap} />)
  switch (node.type) {
    case 'heading':
      return node.attrs?.['level'] === 1 ? (
        <h2 data-block={block} dir="auto">
          {inner}
        </h2>
      ) : node.attrs?.['level'] === 2 ? (
        <h3 data-block={block} dir="auto">
          {inner}
        </h3>
      ) : (
        <h4 data-block={block} dir="auto">
          {inner}
        </h4>
      )
    case 'bulletList':
      return <ul data-block={block}>{inner}</ul>
    case 'orderedList':
      return (
        <ol data-block={block} start={Number(node.attrs?.['start'] ?? 1)}>
          {inner}
        </ol>
      )
    case 'listItem':
      return <li>{inner}</li>
    default:
      return (
        <p data-block={block} dir="auto">
          {inner.length ? inner : <br />}
        </p>
      )
  }
}

function marked({ text, marks = [] }: RichNode): ReactNode {
  return marks.reduce<ReactNode>((inner, mark) => withMark(inner, mark), <Fragment>{text}</Fragment>)
}

function withMark(inner: ReactNode, { type, attrs }: Mark): ReactNode {
  switch (type) {
    case 'bold':
      return <strong>{inner}</strong>
    case 'italic':
      return <em>{inner}</em>
    case 'underline':
      return <u>{inner}</u>
    case 'sub':
      return <sub>{inner}</sub>
    case 'sup':
      return <sup>{inner}</sup>
    case 'colour':
      return <span className={`colour-${String(attrs?.['name'])}`}>{inner}</span>
    case 'link':
      return (
        <a href={String(attrs?.['href'])} target="_blank" rel="noopener noreferrer">
          {inner}
        </a>
      )
    default:
      return inner
  }
}
