import { useEffect, useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { useLeavingAsked } from '../ui/untilReached'

interface Props {
  /** As it is kept. */
  readonly value: string
  readonly disabled: boolean
  /** Resolves with whether it was kept: not where somebody else has written meanwhile. */
  readonly keep: (to: string) => Promise<boolean>
}

/** The remark on the whole, kept when it is left. Where somebody else writes it meanwhile both are shown, and nothing is lost. */
export function WholeRemark({ value, disabled, keep }: Props) {
  const [text, setText] = useState(value)
  const [isContested, setContested] = useState(false)
  const shown = useRef(value)
  useEffect(() => {
    const before = shown.current
    shown.current = value
    if (value === before || isContested) return
    if (text === before || text === value) setText(value)
    else setContested(true)
    // Only what comes is looked at, not what is typed.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [value])
  useLeavingAsked(text !== value)
  const put = async (to: string) => {
    setText(to)
    setContested(false)
    if (to === value || (await keep(to))) return
    setText(to)
    setContested(true)
  }
  return (
    <>
      <textarea
        className="mark-remark"
        aria-label="Remark on the whole"
        placeholder="Remark on the whole …"
        dir="auto"
        maxLength={5_000}
        rows={Math.min(6, Math.max(1, text.split('\n').length + Math.floor(text.length / 46)))}
        disabled={disabled}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onBlur={() => !isContested && text !== value && void put(text)}
      />
      {isContested && (
        <div className="mark-row mark-theirs" role="alert">
          Somebody else wrote meanwhile: <q>{value || 'nothing'}</q>
          <span>
            <Button size="sm" variant="outline-dark" onClick={() => void put([value, text].filter(Boolean).join('\n'))}>
              Both
            </Button>{' '}
            <Button size="sm" variant="link" onClick={() => void put(text)}>
              Mine instead
            </Button>{' '}
            <Button size="sm" variant="link" onClick={() => void put(value)}>
              Leave theirs
            </Button>
          </span>
        </div>
      )}
    </>
  )
}
