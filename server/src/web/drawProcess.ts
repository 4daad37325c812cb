import { pathToFileURL } from 'node:url'
import type { Answer, Asked, Drawing } from './drawing.js'

// Runs as a process of its own; see drawing.ts. The application, built for here, is its one argument.

const { drawFirst } = (await import(pathToFileURL(process.argv[2]!).href)) as {
  drawFirst: (drawing: Drawing) => Promise<string>
}

process.on('message', ({ number, drawing }: Asked) => {
  // One after the other: what is set for one picture is not seen by another.
  last = last.then(() => drawFirst(drawing).catch(() => null)).then((html) => void answer({ number, html }))
})
process.on('disconnect', () => process.exit())

let last: Promise<void> = Promise.resolve()

const answer = (message: Answer) => process.send!(message)

answer({ ready: true })
