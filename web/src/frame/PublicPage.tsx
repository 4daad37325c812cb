import type { ReactNode } from 'react'
import { useEffect } from 'react'
import { Wordmark } from './Wordmark'
import './publicPage.css'

interface Props {
  readonly title: string
  readonly children: ReactNode
  /** For a page that is looked through. */
  readonly wide?: boolean
}

/** A page that needs nobody to be signed in: one column, as good on a phone. */
export function PublicPage({ title, children, wide = false }: Props) {
  useEffect(() => {
    document.title = `${title} – Gavrin`
  }, [title])
  return (
    <main className={wide ? 'public-page wide' : 'public-page'}>
      <p className="word">
        <Wordmark />
      </p>
      <h1>{title}</h1>
      {children}
    </main>
  )
}
