import { useIsMutating, useMutation } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import type { CopyView } from '../live/openCopy'
import { ApiError, api } from '../ui/api'
import { useStored } from '../ui/useStored'
import { documentsKey } from './queries'

/** What became of the wish to submit. */
export type Submission =
  | { readonly is: 'not wished' }
  /** The last words are being saved, or it is on its way. */
  | { readonly is: 'submitting' }
  /** Gavrin cannot be reached: it is submitted as soon as it can be. */
  | { readonly is: 'waiting' }

/** How long after a try that did not arrive it is tried again, in milliseconds. */
const PAUSE = 3_000

/**
 * Submitting a copy. From the moment it is wished the pen rests, so that what is written is in what is submitted, and so
 * are the documents that were put with it a moment before; the wish
 * outlives a reload, and is carried out as soon as everything is saved and Gavrin can be reached.
 */
export function useSubmission(
  { copyId, personId, submitted }: { readonly copyId: string; readonly personId: string; readonly submitted: boolean },
  view: CopyView | null,
  onSettled: () => Promise<unknown>,
) {
  const [wished, setWished] = useStored(`gavrin.submit.${personId}.${copyId}`, false)
  const [waitsAgain, setWaitsAgain] = useState(false)
  const submit = useMutation({
    mutationFn: () => api.post<unknown>(`copies/${copyId}/submit`),
    onSuccess: () => setWished(false),
    onError: (error) => {
      const isAway = error instanceof ApiError && (error.status === 0 || error.status === 503)
      // Gavrin said no: the wish is answered.
      if (isAway) setWaitsAgain(true)
      else setWished(false)
    },
    onSettled,
  })
  const { mutate, isPending } = submit
  // Late words, answered a moment ago, are looked at before anything is handed in.
  const isSaved = !!view?.ready && view.save.is === 'saved' && view.resting.size === 0
  const isWithIt = useIsMutating({ mutationKey: documentsKey(copyId) }) === 0
  const mayNow = wished && isSaved && isWithIt && !submitted && !isPending && !waitsAgain
  useEffect(() => {
    if (mayNow) mutate()
  }, [mayNow, mutate])
  useEffect(() => {
    if (wished && submitted) setWished(false)
  }, [wished, submitted, setWished])
  useEffect(() => {
    if (!waitsAgain) return
    const timer = setTimeout(() => setWaitsAgain(false), PAUSE)
    return () => clearTimeout(timer)
  }, [waitsAgain])

  const isAway = view?.save.is === 'not saved' || (wished && waitsAgain)
  const submission: Submission = !wished ? { is: 'not wished' } : isAway ? { is: 'waiting' } : { is: 'submitting' }
  return {
    submission,
    error: wished ? null : submit.error,
    wish: () => {
      submit.reset()
      setWished(true)
    },
    /** Goes on writing instead. */
    withdraw: () => setWished(false),
  }
}
