import type { AnswerSpace } from '@gavrin/core'
import { useState } from 'react'
import { sentenceOf } from '../ui/api'
import { useSheet } from './surroundings'

/** What is said over an answer space: its label, its points, that it must be filled, and its hint when asked for. */
export function SpaceAbout({ space }: { readonly space: AnswerSpace }) {
  const { hintOf } = useSheet()
  const [asked, setAsked] = useState(false)
  // In a copy a hint comes only when it is asked for.
  const [fetched, setFetched] = useState<string | null>(null)
  const { label, points, required } = space
  const hasHint = space.hint !== undefined || space.hasHint === true
  const hint = space.hint ?? fetched
  if (!label && points === undefined && !required && !hasHint) return null
  const ask = () => {
    setAsked(!asked)
    if (!asked && hint === null) hintOf?.(space.id).then(setFetched, (error) => setFetched(sentenceOf(error)))
  }
  return (
    <div className="space-about">
      {label && (
        <span className="space-label" dir="auto">
          {label}
        </span>
      )}
      {points !== undefined && (
        <span>
          {points} {points === 1 ? 'point' : 'points'}
        </span>
      )}
      {required && <span>must be filled in</span>}
      {hasHint && (
        <button type="button" aria-expanded={asked} onClick={ask}>
          {asked ? 'Close the hint' : 'Hint'}
        </button>
      )}
      {asked && hint && (
        <span className="space-hint" role="note" dir="auto">
          {hint}
        </span>
      )}
    </div>
  )
}
