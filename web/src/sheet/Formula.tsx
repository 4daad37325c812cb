import { Suspense, lazy } from 'react'

// Only sheets that have formulas load what sets them.
const SetFormula = lazy(() => import('./SetFormula'))

/** A formula, set as in a book; its source until then. */
export function Formula({ tex, large }: { readonly tex: string; readonly large: boolean }) {
  return (
    <span className={large ? 'sheet-formula-large' : 'sheet-formula'}>
      <Suspense fallback={<code>{tex}</code>}>
        <SetFormula tex={tex} large={large} />
      </Suspense>
    </span>
  )
}
