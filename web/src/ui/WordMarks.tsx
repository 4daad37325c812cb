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
    if (is !== 'same') return <Marked key={at} is={is} text={text} />
    const isShort = isWhole || text.length <= LONG
    return <span key={at}>{isShort ? text : `${text.slice(0, 140)} … ${text.slice(-140)}`}</span>
  })
}

/** The space before words that came or went is not drawn with them. */
function Marked({ is, text }: { readonly is: 'new' | 'gone'; readonly text: string }) {
  const words = text.trimStart()
  const Mark = is === 'new' ? 'ins' : 'del'
  return words === '' ? (
    <Mark>{text}</Mark>
  ) : (
    <>
      {text.slice(0, text.length - words.length)}
      <Mark>{words}</Mark>
    </>
  )
}
