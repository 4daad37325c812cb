import { LINE_LIMIT, drawnSpace, isNumberText, kindOf } from '@gavrin/core'
import { useEffect, useId, useRef, useState } from 'react'
import * as Y from 'yjs'
import { dateLanguage } from '../ui/time'
import { TYPED, ownHistory, redoIn, undoByKey, undoIn } from './ownUndo'
import { type SpaceProps, Unit, answerClass } from './place'
import { useSheet } from './surroundings'
import { caretAfter, changeBetween, writeText } from './textBinding'

/** A place for a few words or a number. */
export function TextField({ space, doc, label }: SpaceProps) {
  const drawn = drawnSpace(space)
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
    const history = ownHistory(doc, space, TYPED)
    // Undo from a menu: the field's own knows nothing of what others wrote.
    const input = field.current
    const fromMenu = (event: InputEvent) => {
      if (event.inputType !== 'historyUndo' && event.inputType !== 'historyRedo') return
      event.preventDefault()
      if (event.inputType === 'historyUndo') undoIn(history)
      else redoIn(history)
    }
    input?.addEventListener('beforeinput', fromMenu)
    return () => {
      shared.unobserve(changed)
      input?.removeEventListener('beforeinput', fromMenu)
    }
  }, [doc, space])
  const write = (input: HTMLInputElement) => {
    const before = doc.getText(space.kind).toJSON()
    const isFull = input.value.length > LINE_LIMIT && input.value.length > before.length
    setFull(isFull)
    if (!isFull) {
      // A word is undone at a time, and what came in one piece by itself.
      const insert = changeBetween(before, input.value, input.selectionEnd ?? undefined)?.insert ?? ''
      if (insert.length > 1 || /\s/.test(insert)) ownHistory(doc, space, TYPED).stopCapturing()
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
  const isNumeric = kindOf(space).isNumber?.(space) ?? false
  const notNumber = isNumeric && left && text.trim() !== '' && !isNumberText(text)
  return (
    <span className="answer-row">
      <input
        ref={field}
        className={answerClass(space)}
        size={drawn.is === 'blank' && drawn.size === 'gap' ? drawn.letters : undefined}
        required={space.required}
        aria-label={label}
        dir="auto"
        autoComplete="off"
        spellCheck={spelling}
        inputMode={isNumeric ? 'decimal' : 'text'}
        defaultValue={text}
        aria-describedby={notNumber ? hint : undefined}
        onChange={({ target }) => write(target)}
        onKeyDown={undoByKey}
        onFocus={() => setLeft(false)}
        onBlur={() => setLeft(true)}
      />
      <Unit drawn={drawn} />
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
