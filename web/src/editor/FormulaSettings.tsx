import { useState } from 'react'
import { Formula } from '../sheet/Formula'
import { TextSetting, TickSetting } from './fields'

interface Props {
  readonly tex: string
  readonly large: boolean
  readonly change: (attrs: { tex?: string; large?: boolean }) => void
}

/** What can be set about the formula that is selected. */
export function FormulaSettings({ tex, large, change }: Props) {
  const [typed, setTyped] = useState(tex)
  return (
    <section aria-label="Formula">
      <h2>Formula</h2>
      <TextSetting
        label="In TeX"
        rows={3}
        limit={2_000}
        value={typed}
        problem={typed.trim() ? null : 'A formula needs at least one sign.'}
        change={(text) => {
          setTyped(text)
          if (text.trim()) change({ tex: text })
        }}
        hint="\frac{a}{b}, x^2, \sqrt{2}, \cdot, \degree"
      />
      <TickSetting label="Large, on a line of its own" value={large} change={(on) => change({ large: on })} />
      {typed.trim() && (
        <p className="formula-preview">
          <Formula tex={typed} large={large} />
        </p>
      )}
    </section>
  )
}
