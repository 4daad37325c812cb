import { useQuery } from '@tanstack/react-query'
import { Suspense, lazy, useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { Loaded } from '../../ui/Loaded'
import { api } from '../../ui/api'
import './bringIn.css'
import { FinishForm } from './FinishForm'
import { type DocumentRead, type Upload, useUpload } from './queries'

// Each loads what it reads with, which is large.
const PdfReview = lazy(() => import('./PdfReview'))
const PhotoReview = lazy(() => import('./PhotoReview'))

/** A file that was brought in: what it holds, before it is put in the library. */
export function ReviewPage() {
  const { bringInId = '' } = useParams()
  const query = useUpload(bringInId)
  useEffect(() => {
    document.title = `${query.data?.name ?? 'Bring in'} – Gavrin`
  }, [query.data?.name])
  return (
    <main className="page review">
      <Loaded query={query}>
        {(upload) => (
          <>
            <div className="page-head">
              <h1>
                <bdi>{upload.name}</bdi>
              </h1>
              <span className="soft">not in the library yet</span>
              <span className="page-acts">
                <Link className="btn btn-outline-dark" to="/worksheets/bring-in">
                  Later
                </Link>
              </span>
            </div>
            <Suspense fallback={<p className="loading">One moment …</p>}>
              {upload.kind === 'pdf' ? (
                <PdfReview upload={upload} />
              ) : upload.kind === 'picture' ? (
                <PhotoReview upload={upload} />
              ) : (
                <DocumentReview upload={upload} />
              )}
            </Suspense>
          </>
        )}
      </Loaded>
    </main>
  )
}

function DocumentReview({ upload }: { upload: Upload }) {
  const read = useQuery({
    queryKey: ['bring-in', upload.id, 'read'],
    queryFn: () => api.post<DocumentRead>(`bring-in/${upload.id}/read`),
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    refetchOnWindowFocus: false,
  })
  return (
    <Loaded query={read}>
      {(document) => (
        <FinishForm upload={upload} title={document.title} content={document.content} notes={document.notes} />
      )}
    </Loaded>
  )
}
