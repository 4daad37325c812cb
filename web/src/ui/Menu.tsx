import type { ReactNode } from 'react'
import { Dropdown } from 'react-bootstrap'
import { OVER_PAGE } from './overPage'

interface Props {
  readonly label: ReactNode
  /** For screen readers, where the label says too little; holds the words that are seen. */
  readonly name?: string
  readonly variant?: string
  readonly small?: boolean
  readonly align?: 'start' | 'end'
  readonly drop?: 'up' | 'down'
  readonly disabled?: boolean
  readonly children: ReactNode
}

/** A button that opens a list of things to do; it opens over whatever scrolls. */
export function Menu({ label, name, variant = 'outline-dark', small, align, drop, disabled, children }: Props) {
  return (
    <Dropdown align={align ?? 'start'} {...(drop && { drop })}>
      <Dropdown.Toggle
        variant={variant}
        aria-label={name}
        disabled={disabled ?? false}
        {...(small && { size: 'sm' as const })}
      >
        {label}
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={OVER_PAGE} renderOnMount={false} className="menu-fixed">
        {children}
      </Dropdown.Menu>
    </Dropdown>
  )
}
