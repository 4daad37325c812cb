import { type AnswerSpace, countWords, shuffledOptions, starterOf } from '@gavrin/core'
import { type ReactNode, useState } from 'react'
import * as Y from 'yjs'
import { DrawingView } from './DrawingView'
import { HandedIn } from './HandedIn'
import { wantedWords } from './passage/wantedWords'
import { useSheet } from './surroundings'
import { useAnswer } from './useAnswer'

interface Props {
  readonly space: AnswerSpace
  readonly doc: Y.Doc
  readonly label: string
}

/** The classes of a place for a few words. */
export const answerClass = (space: AnswerSpace): string =>
  `answer answer-${space.kind}${space.kind === 'line' ? ` answer-${space.width}` : ''}`

/** What was written, to be read: it grows as it is typed elsewhere. */
export function AnswerView({ space, doc, label }: Props) {
  const value = useAnswer(space, doc)
  const { seed } = useSheet()
  if (space.kind === 'choice') {
    const chosen = 'chosen' in value ? value.chosen : []
    const options = space.shuffled && seed ? shuffledOptions(space.options, `${seed}/${space.id}`) : space.options
    return (
      <ul className="options" aria-label={label}>
        {options.map(({ id, text }) => (
          <li key={id} className={chosen.includes(id) ? 'option chosen' : 'option'}>
            <span className={space.many ? 'tick tick-many' : 'tick'} aria-hidden="true" />
            {text}
            {chosen.includes(id) && <span className="visually-hidden"> (chosen)</span>}
          </li>
        ))}
      </ul>
    )
  }
  if (space.kind === 'drawing')
    return <DrawingView space={space} strokes={'strokes' in value ? value.strokes : []} label={label} />
  if (space.kind === 'file') {
    const files = 'files' in value ? value.files : []
    return (
      <div className="handed-in" role="group" aria-label={label}>
        {files.length ? <HandedIn files={files} /> : <span className="soft">nothing handed in yet</span>}
      </div>
    )
  }
  const text = 'text' in value ? value.text : ''
  const starter = starterOf(space)
  if (space.kind === 'passage')
    return (
      <>
        <div
          className="answer answer-passage"
          role="group"
          aria-label={label}
          style={{ minHeight: `${space.lines * 1.6 + 1}em` }}
        >
          {text ? (
            richAnswer(doc.getXmlFragment('passage'))
          ) : (
            <>
              {starter && <span className="starter">{starter}</span>}
              <span className="visually-hidden">
                {starter ? '(given; nothing written yet)' : 'nothing written yet'}
              </span>
            </>
          )}
        </div>
        {space.wanted && <div className="wanted-words">{wantedWords(countWords(text), space.wanted)}</div>}
      </>
    )
  return (
    <span className="answer-row">
      <span
        className={answerClass(space)}
        style={space.kind === 'gap' ? { minWidth: `${space.width * 0.58}em` } : undefined}
        role="group"
        aria-label={label}
        dir="auto"
      >
        {text || <span className="visually-hidden">nothing written yet</span>}
      </span>
      {space.kind === 'number' && space.unit && <span className="unit">{space.unit}</span>}
    </span>
  )
}

/** The room of an answer that is on its way: nothing beneath it moves when it comes. */
export function AnswerRoom({ space }: { readonly space: AnswerSpace }) {
  const [doc] = useState(() => new Y.Doc())
  return (
    <span className="answer-room" aria-hidden="true">
      <AnswerView space={space} doc={doc} label="" />
    </span>
  )
}

function richAnswer(parent: Y.XmlFragment): ReactNode[] {
  return parent.toArray().map((node, index) => {
    if (node instanceof Y.XmlText) return <span key={index}>{(node.toDelta() as TextPart[]).map(textPart)}</span>
    if (!(node instanceof Y.XmlElement)) return null
    const inner = richAnswer(node)
    switch (node.nodeName) {
      case 'bulletList':
        return <ul key={index}>{inner}</ul>
      case 'orderedList':
        return <ol key={index}>{inner}</ol>
      case 'listItem':
        return <li key={index}>{inner}</li>
      case 'hardBreak':
        return <br key={index} />
      default:
        return (
          <p key={index} dir="auto">
            {inner.length ? inner : <br />}
          </p>
        )
    }
  })
}

interface TextPart {
  readonly insert?: unknown
  readonly attributes?: Readonly<Record<string, unknown>>
}

function textPart({ insert, attributes = {} }: TextPart, index: number): ReactNode {
  let inner: ReactNode = typeof insert === 'string' ? insert : ''
  if (attributes['bold']) inner = <strong>{inner}</strong>
  if (attributes['italic']) inner = <em>{inner}</em>
  if (attributes['underline']) inner = <u>{inner}</u>
  return <span key={index}>{inner}</span>
}
