import { useCallback, useEffect, useRef, useState } from 'react'
import { type Piece, pieceAt, piecesOf } from './pieces'

export interface Speech {
  readonly state: 'silent' | 'reading' | 'paused'
  /** Reads from what is marked, or from the beginning. */
  readonly read: () => void
  readonly stop: () => void
  readonly pause: () => void
  readonly goOn: () => void
}

const MARK = 'read-aloud'

function mark(piece: Piece | null): void {
  document.querySelector('.read-aloud')?.classList.remove('read-aloud')
  if (typeof CSS !== 'undefined' && 'highlights' in CSS) {
    if (piece?.range) CSS.highlights.set(MARK, new Highlight(piece.range))
    else CSS.highlights.delete(MARK)
  }
  if (piece && !piece.range) piece.element.classList.add('read-aloud')
  piece?.element.scrollIntoView({ block: 'nearest' })
}

/** Whether this browser can read aloud. */
export const canSpeak = (): boolean => typeof speechSynthesis !== 'undefined'

/** Reads a page aloud, print and answers, a sentence at a time; what is read is marked. */
export function useSpeech(sheet: Element | null, language: string, pace: number): Speech {
  const [state, setState] = useState<Speech['state']>('silent')
  /** Counts the readings: what ends late is not taken for the end of the next. */
  const reading = useRef(0)
  const stop = useCallback(() => {
    reading.current++
    speechSynthesis.cancel()
    mark(null)
    setState('silent')
  }, [])
  useEffect(() => () => void (canSpeak() && stop()), [stop, sheet])

  const read = useCallback(() => {
    if (!sheet) return
    const mine = ++reading.current
    speechSynthesis.cancel()
    const pieces = piecesOf(sheet, language)
    const say = (at: number) => {
      const piece = pieces[at]
      if (mine !== reading.current) return
      if (!piece) return stop()
      const words = new SpeechSynthesisUtterance(piece.text)
      if (language) words.lang = language
      words.rate = pace
      words.onend = () => say(at + 1)
      words.onerror = () => mine === reading.current && stop()
      mark(piece)
      speechSynthesis.speak(words)
    }
    setState('reading')
    say(pieceAt(pieces, sheet))
  }, [sheet, language, pace, stop])

  const pause = useCallback(() => {
    speechSynthesis.pause()
    setState('paused')
  }, [])
  const goOn = useCallback(() => {
    speechSynthesis.resume()
    setState('reading')
  }, [])
  return { state, read, stop, pause, goOn }
}
