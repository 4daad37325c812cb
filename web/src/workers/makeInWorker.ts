import type { GroupWish, MadeGroups, Outcome } from '@gavrin/core'

/** Makes groups away from the page's own thread. */
export function makeInWorker(wish: GroupWish): Promise<Outcome<MadeGroups>> {
  const worker = new Worker(new URL('./groups.worker.ts', import.meta.url), { type: 'module' })
  return new Promise<Outcome<MadeGroups>>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<Outcome<MadeGroups>>) => resolve(data)
    worker.onerror = () => reject(new Error('The groups could not be made.'))
    worker.postMessage(wish)
  }).finally(() => worker.terminate())
}
