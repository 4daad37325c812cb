import { useEffect, useRef } from 'react'
import Button from 'react-bootstrap/Button'
import type { Speech } from './useSpeech'
import './reading.css'

/** What stands over the page meanwhile: the ruler, and what stops the reading. */
export function ReadingAids({ hasRuler, speech }: { readonly hasRuler: boolean; readonly speech: Speech }) {
  const { state, stop, pause, goOn } = speech
  return (
    <>
      {hasRuler && <Ruler />}
      {state !== 'silent' && (
        <div className="reads-aloud" role="status">
          <span>{state === 'reading' ? 'Reading aloud' : 'Paused'}</span>
          <Button size="sm" variant="outline-dark" onClick={state === 'reading' ? pause : goOn}>
            {state === 'reading' ? 'Pause' : 'Go on'}
          </Button>
          <Button size="sm" variant="link" onClick={stop}>
            Stop
          </Button>
        </div>
      )}
    </>
  )
}

/** A band across the page that follows the pointer and the caret; what is above and below it is shaded. */
function Ruler() {
  const band = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const at = (y: number) => band.current?.style.setProperty('--at', `${y}px`)
    const pointed = ({ clientY }: PointerEvent) => at(clientY)
    const written = () => {
      const selection = document.getSelection()
      const box = selection?.rangeCount ? selection.getRangeAt(0).getBoundingClientRect() : null
      const field = document.activeElement
      if (box && box.height > 0) at(box.top + box.height / 2)
      else if (field instanceof HTMLInputElement) {
        const { top, height } = field.getBoundingClientRect()
        at(top + height / 2)
      }
    }
    document.addEventListener('pointermove', pointed)
    document.addEventListener('selectionchange', written)
    return () => {
      document.removeEventListener('pointermove', pointed)
      document.removeEventListener('selectionchange', written)
    }
  }, [])
  return <div ref={band} className="reading-ruler" aria-hidden="true" />
}
