import { useEffect, useRef, useState } from 'react'
import type { ListAnswer, ListTask } from '../../workers/listWorker'

/**
 * Has a list understood and compared away from the page's own thread. While a newer answer is on its way the one before it
 * stands.
 */
export function useListWork(task: Omit<ListTask, 'number'> | null): { answer: ListAnswer | null; busy: boolean } {
  const worker = useRef<Worker | null>(null)
  const number = useRef(0)
  const [answer, setAnswer] = useState<ListAnswer | null>(null)
  const [asked, setAsked] = useState(0)
  useEffect(() => {
    const started = new Worker(new URL('../../workers/list.worker.ts', import.meta.url), { type: 'module' })
    started.onmessage = ({ data }: MessageEvent<ListAnswer>) => {
      if (data.number === number.current) setAnswer(data)
    }
    worker.current = started
    return () => {
      started.terminate()
      worker.current = null
    }
  }, [])
  useEffect(() => {
    number.current++
    setAsked(number.current)
    if (task) worker.current?.postMessage({ ...task, number: number.current })
    else setAnswer(null)
  }, [task])
  return { answer: task ? answer : null, busy: !!task && answer?.number !== asked }
}
