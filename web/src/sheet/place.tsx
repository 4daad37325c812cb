import {
  type AnswerSpace,
  type ChoiceOption,
  type ChoiceSpace,
  type Drawn,
  drawnSpace,
  kindWords,
  shuffledOptions,
} from '@gavrin/core'
import type { CSSProperties, ReactNode } from 'react'
import type * as Y from 'yjs'

/** What a place to answer is shown with. */
export interface SpaceProps<S extends AnswerSpace = AnswerSpace> {
  readonly space: S
  /** What stands in it. */
  readonly doc: Y.Doc
  /** What it is called where its print is not seen. */
  readonly label: string
}

/** The classes of a place for words. */
export function answerClass(space: AnswerSpace): string {
  const drawn = drawnSpace(space)
  const isLine = drawn.is === 'blank' && (drawn.size === 'full' || drawn.size === 'short')
  return `answer answer-${space.kind}${isLine ? ` answer-${drawn.size}` : ''}`
}

/** How wide or tall the empty place is. */
export function placeStyle(drawn: Drawn): CSSProperties | undefined {
  if (drawn.is === 'lines') return { minHeight: `${drawn.lines * 1.6 + 1}em` }
  if (drawn.is === 'canvas') return { aspectRatio: `100 / ${drawn.height}` }
  return drawn.is === 'blank' && drawn.size === 'gap' ? { minWidth: `${drawn.letters * 0.58}em` } : undefined
}

/** The unit that is printed after a place. */
export const Unit = ({ drawn }: { readonly drawn: Drawn }): ReactNode =>
  drawn.is === 'blank' && drawn.unit ? <span className="unit">{drawn.unit}</span> : null

/** The options in the order of a copy. */
export const optionsShown = (space: ChoiceSpace, seed: string | undefined): readonly ChoiceOption[] =>
  space.shuffled && seed ? shuffledOptions(space.options, `${seed}/${space.id}`) : space.options

interface ListProps {
  readonly options: readonly ChoiceOption[]
  readonly many: boolean
  readonly chosen?: readonly string[]
  /** What is said of those that are chosen. */
  readonly said?: string
  readonly label?: string
}

/** Options to be read. */
export const OptionList = ({ options, many, chosen = [], said, label }: ListProps): ReactNode => (
  <ul className="options" aria-label={label}>
    {options.map(({ id, text }) => (
      <li key={id} className={chosen.includes(id) ? 'option chosen' : 'option'}>
        <span className={many ? 'tick tick-many' : 'tick'} aria-hidden="true" />
        {text}
        {chosen.includes(id) && <span className="visually-hidden"> ({said})</span>}
      </li>
    ))}
  </ul>
)

/** An answer space as it looks before anybody has written in it. */
export function EmptySpace({ space }: { readonly space: AnswerSpace }): ReactNode {
  const drawn = drawnSpace(space)
  switch (drawn.is) {
    case 'options':
      return <OptionList options={drawn.options} many={drawn.many} />
    case 'canvas':
      return <div className="drawing" style={placeStyle(drawn)} />
    case 'request':
      return <div className="handed-in soft">{kindWords(space)}</div>
    default: {
      const place = <span className={answerClass(space)} style={placeStyle(drawn)} />
      if (space.kind === 'gap') return place
      return (
        <span className="answer-row">
          {place}
          <Unit drawn={drawn} />
        </span>
      )
    }
  }
}
