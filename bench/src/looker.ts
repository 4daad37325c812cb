import { parentPort, workerData } from 'node:worker_threads'
import { DataSource } from 'typeorm'
import { dataSourceOptions } from '../../server/dist/database/dataSource.js'
import { boardRowsOf } from '../../server/dist/kept/kept.queries.js'
import { timed } from './figures.js'

// Somebody who looks at a board again and again, beside the bare query: in a thread of their own, where those who write wait for
// nobody and nobody for them.

export interface Look {
  readonly address: string
  readonly cookie: string
  readonly schoolId: string
  readonly handoutId: string
  readonly milliseconds: number
}
export interface Looked {
  readonly answered: number[]
  readonly bare: number[]
  readonly bytes: number
}

const { address, cookie, schoolId, handoutId, milliseconds } = workerData as Look
const source = await new DataSource({
  ...dataSourceOptions(process.env['DATABASE_URL']!, 1),
  entities: [],
}).initialize()
const looked: Looked = { answered: [], bare: [], bytes: 0 }
let bytes = 0
const end = performance.now() + milliseconds
while (performance.now() < end) {
  looked.answered.push(
    await timed(async () => {
      const answer = await fetch(`${address}/api/handouts/${handoutId}/board`, { headers: { cookie } })
      bytes = (await answer.arrayBuffer()).byteLength
    }),
  )
  looked.bare.push(await timed(() => boardRowsOf(source, schoolId, handoutId, null)))
  await new Promise((resolve) => setTimeout(resolve, 100))
}
await source.destroy()
parentPort!.postMessage({ ...looked, bytes } satisfies Looked)
