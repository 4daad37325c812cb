import { COPY_STATES, type CopyState } from '@gavrin/core'

type States = Readonly<Partial<Record<CopyState, number>>>

/** The states of many copies as one thin bar; the same said in words. */
export function StateBar({ states, words = false }: { readonly states: States; readonly words?: boolean }) {
  const present = COPY_STATES.toReversed().filter((state) => states[state])
  const total = present.reduce((sum, state) => sum + states[state]!, 0)
  const said = present.map((state) => `${states[state]} ${state}`).join(', ') || 'no copies'
  return (
    <span className="state-bar-line">
      <svg
        className="state-bar"
        viewBox={`0 0 ${Math.max(total, 1)} 1`}
        preserveAspectRatio="none"
        role="img"
        aria-label={said}
      >
        <title>{said}</title>
        {present.map((state, index) => {
          const start = present.slice(0, index).reduce((sum, other) => sum + states[other]!, 0)
          return (
            <rect
              key={state}
              className={`bar-${state.replaceAll(' ', '-')}`}
              x={start}
              y={0}
              width={states[state]}
              height={1}
            />
          )
        })}
      </svg>
      {words && <span className="soft">{said}</span>}
    </span>
  )
}
