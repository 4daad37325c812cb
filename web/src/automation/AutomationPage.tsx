import { useEffect } from 'react'
import { Tokens } from './Tokens'
import { Webhooks } from './Webhooks'
import './automation.css'

/** Programs of one's own: tokens for them, and addresses that are told what happens. */
export function AutomationPage() {
  useEffect(() => {
    document.title = 'Own programs – Gavrin'
  }, [])
  return (
    <main className="page automation">
      <div className="page-head">
        <h1>Own programs</h1>
        <span className="soft">
          what a program may do in your name · described under <a href="/api/openapi.json">/api/openapi.json</a>
        </span>
      </div>
      <Tokens />
      <Webhooks />
    </main>
  )
}
