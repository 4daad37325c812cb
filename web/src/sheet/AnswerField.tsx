import {
  type AnswerSpace,
  type CellSpace,
  type ChoiceSpace,
  type GapSpace,
  LINE_LIMIT,
  type LineSpace,
  type NumberSpace,
  chooseOne,
  isNumberText,
  shuffledOptions,
} from '@gavrin/core'
import { Suspense, lazy, useEffect, useId, useRef, useState } from 'react'
import * as Y from 'yjs'
import { AnswerView, answerClass } from './AnswerView'
import { FileField } from './FileField'
import { TYPED, ownHistory, undoByKey } from './ownUndo'
import { useSheet } from './surroundings'
import { caretAfter, changeBetween, writeText } from './textBinding'
import { useAnswer } from './useAnswer'
import { dateLanguage } from '../ui/time'

const PassageField = lazy(() => import('./PassageField'))
const DrawingField = lazy(() => import('./DrawingField'))

interface Props<S extends AnswerSpace = AnswerSpace> {
  readonly space: S
  readonly doc: Y.Doc
  readonly label: string
}

/** An answer space to write in. */
export function AnswerField({ space, doc, label }: Props) {
  switch (space.kind) {
    case 'choice':
      return <ChoiceField space={space} doc={doc} label={label} />
    case 'passage':
      return (
        <Suspense fallback={<AnswerView space={space} doc={doc} label={label} />}>
          <PassageField space={space} doc={doc} label={label} />
        </Suspense>
      )
    case 'drawing':
      return (
        <Suspense fallback={<AnswerView space={space} doc={doc} label={label} />}>
          <DrawingField space={space} doc={doc} label={label} />
        </Suspense>
      )
    case 'file':
      return <FileField space={space} doc={doc} label={label} />
    default:
      return <TextField space={space} doc={doc} label={label} />
  }
}

function TextField({ space, doc, label }: Props<LineSpace | NumberSpace | GapSpace | CellSpace>) {
  const field = useRef<HTMLInputElement>(null)
  const hint = useId()
  const [text, setText] = useState(() => doc.getText(space.kind).toJSON())
  const [left, setLeft] = useState(false)
  const { spelling } = useSheet()
  const [isFull, setFull] = useState(false)
  useEffect(() => {
    const shared = doc.getText(space.kind)
    const show = () => {
      const input = field.current
      if (input && input.value !== shared.toJSON()) input.value = shared.toJSON()
      setText(shared.toJSON())
    }
    const changed = (event: Y.YTextEvent, transaction: Y.Transaction) => {
      // What is typed stands in the field already; what is undone does not.
      if (transaction.local && !(transaction.origin instanceof Y.UndoManager)) return setText(shared.toJSON())
      const input = field.current
      const focused = input && document.activeElement === input
      const from = focused ? caretAfter(input.selectionStart ?? 0, event.delta) : 0
      const to = focused ? caretAfter(input.selectionEnd ?? 0, event.delta) : 0
      show()
      if (focused) input.setSelectionRange(from, to)
    }
    show()
    shared.observe(changed)
    // From here on what is typed can be undone.
    const history = ownHistory(doc, space.kind, TYPED)
    // Undo from a menu: the field's own knows nothing of what others wrote.
    const input = field.current
    const fromMenu = (event: InputEvent) => {
      if (event.inputType !== 'historyUndo' && event.inputType !== 'historyRedo') return
      event.preventDefault()
      if (event.inputType === 'historyUndo') history.undo()
      else history.redo()
    }
    input?.addEventListener('beforeinput', fromMenu)
    return () => {
      shared.unobserve(changed)
      input?.removeEventListener('beforeinput', fromMenu)
    }
  }, [doc, space.kind])
  const write = (input: HTMLInputElement) => {
    const before = doc.getText(space.kind).toJSON()
    const isFull = input.value.length > LINE_LIMIT && input.value.length > before.length
    setFull(isFull)
    if (!isFull) {
      // A word is undone at a time, and what came in one piece by itself.
      const insert = changeBetween(before, input.value, input.selectionEnd ?? undefined)?.insert ?? ''
      if (insert.length > 1 || /\s/.test(insert)) ownHistory(doc, space.kind, TYPED).stopCapturing()
      return writeText(doc.getText(space.kind), input.value, input.selectionEnd ?? undefined)
    }
    const caret = Math.max(0, (input.selectionEnd ?? before.length) - (input.value.length - before.length))
    input.value = before
    input.setSelectionRange(caret, caret)
  }
  const room = isFull
    ? `A line takes up to ${LINE_LIMIT.toLocaleString(dateLanguage())} letters. This was not put in.`
    : text.length > 0.9 * LINE_LIMIT && text.length <= LINE_LIMIT
      ? `${LINE_LIMIT - text.length} more letters fit into this line.`
      : ''
  const isNumeric = space.kind === 'number' || (space.kind === 'cell' && space.numeric)
  const notNumber = isNumeric && left && text.trim() !== '' && !isNumberText(text)
  return (
    <span className="answer-row">
      <input
        ref={field}
        className={answerClass(space)}
        size={space.kind === 'gap' ? space.width : undefined}
        required={space.required}
        aria-label={label}
        dir="auto"
        autoComplete="off"
        spellCheck={spelling}
        inputMode={isNumeric ? 'decimal' : 'text'}
        defaultValue={text}
        aria-describedby={notNumber ? hint : undefined}
        onChange={({ target }) => write(target)}
        onKeyDown={(event) => undoByKey(event, ownHistory(doc, space.kind, TYPED))}
        onFocus={() => setLeft(false)}
        onBlur={() => setLeft(true)}
      />
      {space.kind === 'number' && space.unit && <span className="unit">{space.unit}</span>}
      {room && (
        <span className="answer-hint" role="status">
          {room}
        </span>
      )}
      {notNumber && (
        <span id={hint} className="answer-hint">
          This does not read as a number yet.
        </span>
      )}
    </span>
  )
}

function ChoiceField({ space, doc, label }: Props<ChoiceSpace>) {
  const name = useId()
  const { seed } = useSheet()
  const options = space.shuffled && seed ? shuffledOptions(space.options, `${seed}/${space.id}`) : space.options
  const value = useAnswer(space, doc)
  const history = ownHistory(doc, 'choice', 0)
  const chosen = 'chosen' in value ? value.chosen : []
  const set = (id: string, on: boolean) => {
    if (!space.many) return chooseOne(doc, on ? id : null)
    const root = doc.getMap('choice')
    doc.transact(() => {
      // Chosen when one alone could be, it is one of several now.
      for (const other of chosen) if (root.get(other) !== true) root.set(other, true)
      if (root.get(id) !== on) root.set(id, on)
    })
  }
  return (
    <fieldset
      className="options"
      onKeyDown={(event) => {
        undoByKey(event, history)
        if (space.many || (event.key !== 'Delete' && event.key !== 'Backspace')) return
        event.preventDefault()
        chooseOne(doc, null)
      }}
    >
      <legend className="visually-hidden">{label}</legend>
      {options.map(({ id, text }) => (
        <label key={id} className={chosen.includes(id) ? 'option chosen' : 'option'}>
          <input
            type={space.many ? 'checkbox' : 'radio'}
            name={name}
            checked={chosen.includes(id)}
            onChange={({ target }) => set(id, target.checked)}
          />
          <span dir="auto">{text}</span>
        </label>
      ))}
      {!space.many && chosen.length > 0 && (
        <button type="button" className="no-answer" onClick={() => chooseOne(doc, null)}>
          No answer
        </button>
      )}
    </fieldset>
  )
}
