import type { AnswerSpace } from '@gavrin/core'
import { useState } from 'react'

/** What is said over an answer space: its label, its points, that it must be filled, and its hint when asked for. */
export function SpaceAbout({ space }: { readonly space: AnswerSpace }) {
  const [asked, setAsked] = useState(false)
  const { label, points, required, hint } = space
  if (!label && points === undefined && !required && !hint) return null
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
      {hint && (
        <button type="button" aria-expanded={asked} onClick={() => setAsked(!asked)}>
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
