import { type Points, pointsInWords, readPoints } from '@gavrin/core'
import { type Ref, useEffect, useState } from 'react'

interface Props {
  readonly label: string
  readonly value: Points | null
  /** Proposed, and not taken yet. */
  readonly proposal?: Points | null
  readonly most: Points
  readonly disabled?: boolean
  readonly change: (to: Points | null) => void
  /** Enter: goes on to what comes next. */
  readonly next?: (from: HTMLElement) => void
  readonly field?: Ref<HTMLInputElement>
  readonly className?: string
}

/** Points to be typed: `14`, `14,5`, `14½`. What cannot be read stays, with what is wrong beside it. */
export function PointsField({
  label,
  value,
  proposal = null,
  most,
  disabled = false,
  change,
  next,
  field,
  className = '',
}: Props) {
  const shown = value === null ? '' : pointsInWords(value)
  const [text, setText] = useState(shown)
  const [problem, setProblem] = useState('')
  useEffect(() => {
    setText(shown)
    setProblem('')
  }, [shown])
  const keep = (): boolean => {
    if (text.trim() === '') {
      setProblem('')
      if (value !== null) change(null)
      return true
    }
    const read = readPoints(text, most)
    if (!read.ok) {
      setProblem(read.problems[0]!.sentence)
      return false
    }
    setProblem('')
    setText(pointsInWords(read.value))
    if (read.value !== value) change(read.value)
    return true
  }
  return (
    <span className={`points-field ${proposal !== null && value === null ? 'proposed' : ''} ${className}`}>
      <input
        ref={field}
        type="text"
        inputMode="decimal"
        autoComplete="off"
        aria-label={label}
        aria-invalid={problem !== ''}
        title={problem || (proposal !== null && value === null ? 'Proposed: Enter takes it' : undefined)}
        // What Enter goes on from, and to.
        data-points={next && ''}
        disabled={disabled}
        value={text}
        placeholder={proposal !== null ? pointsInWords(proposal) : '–'}
        onChange={({ target }) => setText(target.value)}
        onFocus={({ target }) => target.select()}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === 'Escape') {
            setText(shown)
            setProblem('')
            event.currentTarget.blur()
          }
          if (event.key !== 'Enter' || event.ctrlKey || event.metaKey) return
          event.preventDefault()
          if (text.trim() === '' && proposal !== null && value === null) change(proposal)
          else if (!keep()) return
          next?.(event.currentTarget)
        }}
      />
      <span className="points-of">of {pointsInWords(most)}</span>
      {problem && (
        <span className="points-problem" role="alert">
          {problem}
        </span>
      )}
    </span>
  )
}

/** Goes on to the next place for points on the page; null: that was the last. */
export function nextPoints(from: HTMLElement): HTMLElement | null {
  const all = [...document.querySelectorAll<HTMLElement>('[data-points]:not(:disabled)')].filter(
    (one) => one.offsetParent !== null,
  )
  const next = all[all.indexOf(from) + 1] ?? null
  next?.focus()
  return next
}
