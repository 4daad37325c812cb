import { Pin } from 'lucide-react'

/** That a worksheet is pinned. */
export const PinMark = () => (
  <span className="pin-mark" title="pinned">
    <Pin size={13} aria-hidden="true" />
    <span className="visually-hidden">pinned</span>
  </span>
)
