import type { ReactNode } from 'react'
import { Dropdown } from 'react-bootstrap'
import { OVER_PAGE } from '../ui/overPage'

interface Props {
  /** For programs that read the page: what is to be filled in. */
  readonly label: string
  readonly value: ReactNode
  /** Nothing is filled in yet. */
  readonly open?: boolean
  /** Several things are set in it: it stays open until somebody goes elsewhere. */
  readonly stays?: boolean
  readonly children: ReactNode
}

/** A blank in the slip's sentence; it opens in place. */
export function Blank({ label, value, open = false, stays = false, children }: Props) {
  return (
    <Dropdown as="span" className="blank" autoClose={stays ? 'outside' : true}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className={open ? 'blank-value is-open' : 'blank-value'}
        aria-label={label}
      >
        {value}
      </Dropdown.Toggle>
      <Dropdown.Menu className="blank-menu" popperConfig={OVER_PAGE}>
        {children}
      </Dropdown.Menu>
    </Dropdown>
  )
}

/** One thing a blank can be filled in with. */
export function BlankChoice({
  chosen,
  choose,
  children,
}: {
  chosen: boolean
  choose: () => void
  children: ReactNode
}) {
  return (
    <Dropdown.Item as="button" type="button" active={chosen} onClick={choose}>
      {children}
    </Dropdown.Item>
  )
}
