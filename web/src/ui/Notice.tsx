import type { ReactNode } from 'react'

/** One clear sentence at its place, with what can be done about it. */
export function Notice({ kind, children }: { readonly kind: 'plain' | 'look' | 'bad'; readonly children: ReactNode }) {
  return (
    <div className={`notice notice-${kind}`} role={kind === 'bad' ? 'alert' : 'status'}>
      {children}
    </div>
  )
}
