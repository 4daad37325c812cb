import type { ReactNode } from 'react'
import { useEffect } from 'react'
import { Wordmark } from './Wordmark'
import './publicPage.css'

interface Props {
  readonly title: string
  readonly children: ReactNode
}

/** A page that needs nobody to be signed in: one column, as good on a phone. */
export function PublicPage({ title, children }: Props) {
  useEffect(() => {
    document.title = `${title} – Gavrin`
  }, [title])
  return (
    <main className="public-page">
      <p className="word">
        <Wordmark />
      </p>
      <h1>{title}</h1>
      {children}
    </main>
  )
}
