import { type ChoiceSpace, type DrawingSpace, type PassageSpace, countWords, drawnSpace, starterOf } from '@gavrin/core'
import type { ReactNode } from 'react'
import * as Y from 'yjs'
import { DrawingView } from './DrawingView'
import { HandedIn } from './HandedIn'
import { wantedWords } from './passage/wantedWords'
import { OptionList, type SpaceProps, Unit, answerClass, optionsShown, placeStyle } from './place'
import { useSheet } from './surroundings'
import { useAnswer } from './useAnswer'

/** A few words or a number, to be read. */
export function TextRead({ space, doc, label }: SpaceProps) {
  const value = useAnswer(space, doc)
  const drawn = drawnSpace(space)
  return (
    <span className="answer-row">
      <span className={answerClass(space)} style={placeStyle(drawn)} role="group" aria-label={label} dir="auto">
        {('text' in value && value.text) || <span className="visually-hidden">nothing written yet</span>}
      </span>
      <Unit drawn={drawn} />
    </span>
  )
}

/** What was chosen. */
export function ChoiceRead({ space, doc, label }: SpaceProps<ChoiceSpace>) {
  const value = useAnswer(space, doc)
  const options = optionsShown(space, useSheet().seed)
  const chosen = 'chosen' in value ? value.chosen : []
  return <OptionList options={options} many={space.many} chosen={chosen} said="chosen" label={label} />
}

/** What was drawn. */
export function DrawingRead({ space, doc, label }: SpaceProps<DrawingSpace>) {
  const value = useAnswer(space, doc)
  return <DrawingView space={space} strokes={'strokes' in value ? value.strokes : []} label={label} />
}

/** What was handed in. */
export function FilesRead({ space, doc, label }: SpaceProps) {
  const value = useAnswer(space, doc)
  const files = 'files' in value ? value.files : []
  return (
    <div className="handed-in" role="group" aria-label={label}>
      {files.length ? <HandedIn files={files} /> : <span className="soft">nothing handed in yet</span>}
    </div>
  )
}

/** A passage, with its letters as they were set. */
export function PassageRead({ space, doc, label }: SpaceProps<PassageSpace>) {
  const value = useAnswer(space, doc)
  const text = 'text' in value ? value.text : ''
  const starter = starterOf(space)
  return (
    <>
      <div className={answerClass(space)} role="group" aria-label={label} style={placeStyle(drawnSpace(space))}>
        {text ? (
          richAnswer(doc.getXmlFragment('passage'))
        ) : (
          <>
            {starter && <span className="starter">{starter}</span>}
            <span className="visually-hidden">{starter ? '(given; nothing written yet)' : 'nothing written yet'}</span>
          </>
        )}
      </div>
      {space.wanted && <div className="wanted-words">{wantedWords(countWords(text), space.wanted)}</div>}
    </>
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
