import katex from 'katex'
import 'katex/dist/katex.min.css'
import { useEffect, useRef } from 'react'

/** A formula set by KaTeX, with MathML beside it for screen readers. */
export default function SetFormula({ tex, large }: { readonly tex: string; readonly large: boolean }) {
  const place = useRef<HTMLSpanElement>(null)
  useEffect(() => {
    if (place.current) katex.render(tex, place.current, { throwOnError: false, displayMode: large, strict: 'ignore' })
  }, [tex, large])
  return <span ref={place} />
}
