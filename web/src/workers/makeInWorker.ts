import type { GroupWish, Heap, HeapedAnswer, MadeGroups, NearHeap, Outcome } from '@gavrin/core'

/** What a worker makes of something, away from the page's own thread; the worker ends with it. */
function made<Made>(worker: Worker, wish: unknown, failed: string): Promise<Made> {
  return new Promise<Made>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<Made>) => resolve(data)
    worker.onerror = () => reject(new Error(failed))
    worker.postMessage(wish)
  }).finally(() => worker.terminate())
}

/** Makes groups. */
export const makeInWorker = (wish: GroupWish): Promise<Outcome<MadeGroups>> =>
  made(
    new Worker(new URL('./groups.worker.ts', import.meta.url), { type: 'module' }),
    wish,
    'The groups could not be made.',
  )

/** Lays heaps of answers that are nearly the same together. */
export const nearInWorker = <A extends HeapedAnswer>(heaps: readonly Heap<A>[]): Promise<NearHeap<A>[]> =>
  made(
    new Worker(new URL('./heaps.worker.ts', import.meta.url), { type: 'module' }),
    heaps,
    'The answers could not be laid together.',
  )
