import { type PageSize, pageMillimetres } from '@gavrin/core'
import { useEffect } from 'react'

/** Prints the page on paper of this size for as long as the component is there. */
export function usePaper(page: PageSize): void {
  useEffect(() => {
    const { width, height } = pageMillimetres(page)
    const rules = new CSSStyleSheet()
    rules.replaceSync(`@page { size: ${width}mm ${height}mm; margin: 15mm }`)
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, rules]
    return () => {
      document.adoptedStyleSheets = document.adoptedStyleSheets.filter((other) => other !== rules)
    }
  }, [page])
}
