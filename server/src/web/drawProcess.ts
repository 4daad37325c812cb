import { pathToFileURL } from 'node:url'
import type { Answer, Asked, Drawing } from './drawing.js'

// Runs as a process of its own; see drawing.ts. The application, built for here, is its one argument.

const { drawFirst } = (await import(pathToFileURL(process.argv[2]!).href)) as {
  drawFirst: (drawing: Omit<Drawing, 'zone'>) => Promise<string>
}

let zone: string | null = null

process.on('message', ({ number, drawing }: Asked) => {
  // One after the other: what is set for one picture is not seen by another.
  last = last.then(() => draw(drawing).catch(() => null)).then((html) => void answer({ number, html }))
})
process.on('disconnect', () => process.exit())

let last: Promise<void> = Promise.resolve()

const answer = (message: Answer) => process.send!(message)

async function draw({ zone: wanted, ...drawing }: Drawing): Promise<string> {
  if (wanted !== zone) {
    zone = wanted
    // Node.js takes over a zone that is set while it runs.
    if (wanted) process.env['TZ'] = wanted
    else delete process.env['TZ']
  }
  return drawFirst(drawing)
}

answer({ ready: true })
