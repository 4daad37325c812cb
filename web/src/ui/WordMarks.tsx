import type { WordPiece } from '@gavrin/core'

/** Beyond this a run of words that stayed is shown by its ends, where it is only to lead to what changed. */
const LONG = 300

/** Words that stayed, came and went. */
export function WordMarks({
  pieces,
  isWhole = false,
}: {
  readonly pieces: readonly WordPiece[]
  /** All that stayed is shown, however long it is. */
  readonly isWhole?: boolean
}) {
  return pieces.map(({ is, text }, at) => {
    if (is === 'new') return <ins key={at}>{text}</ins>
    if (is === 'gone') return <del key={at}>{text}</del>
    const isShort = isWhole || text.length <= LONG
    return <span key={at}>{isShort ? text : `${text.slice(0, 140)} … ${text.slice(-140)}`}</span>
  })
}
