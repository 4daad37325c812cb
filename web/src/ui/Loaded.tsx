import type { UseQueryResult } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import Button from 'react-bootstrap/Button'
import { Notice } from './Notice'
import { sentenceOf } from './api'

/** What a query brought, or that it is on its way, or why it did not come. */
export function Loaded<T>({ query, children }: { query: UseQueryResult<T>; children: (value: T) => ReactNode }) {
  if (query.data !== undefined) return <>{children(query.data)}</>
  if (query.isError)
    return (
      <div className="page-message">
        <Notice kind="bad">
          {sentenceOf(query.error)}{' '}
          <Button variant="link" onClick={() => void query.refetch()}>
            Try again
          </Button>
        </Notice>
      </div>
    )
  return (
    <p className="page-message loading" role="status">
      One moment …
    </p>
  )
}
