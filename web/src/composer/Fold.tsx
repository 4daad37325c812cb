import type { ReactNode } from 'react'

interface Props {
  /** What is set in it, in words: it is read without being opened. */
  readonly words: readonly string[]
  readonly label: string
  readonly children: ReactNode
}

/** Blanks that are seldom filled in otherwise, in one quiet line that says what they are. */
export function Fold({ words, label, children }: Props) {
  return (
    <details className="fold">
      <summary>
        <span className="fold-label">{label}</span> <bdi>{words.join('; ')}.</bdi>
      </summary>
      <div className="fold-body">{children}</div>
    </details>
  )
}
