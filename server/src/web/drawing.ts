import { type ChildProcess, fork } from 'node:child_process'
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** What the first picture of a page is drawn from. */
export interface Drawing {
  readonly path: string
  /** What is sent along with the page, as JSON. */
  readonly first: string
  /** What the browser remembers and the picture depends on. */
  readonly cookies: string
  /** In milliseconds since 1970. */
  readonly now: number
  /** The zone of whoever reads it; null if it is not known. */
  readonly zone: string | null
}

export interface Asked {
  readonly number: number
  readonly drawing: Drawing
}
export type Answer = { readonly ready: true } | { readonly number: number; readonly html: string | null }

/** What bounds the drawing. */
export interface DrawingLimits {
  /** So long a page waits for its picture, in milliseconds; then it goes out without, and the browser draws it. */
  readonly patience: number
  /** A picture that takes longer, in milliseconds, holds up the others: its process is ended. */
  readonly longest: number
  /** So many wait; whoever comes then is not kept waiting. */
  readonly waiting: number
  /** In characters: a page larger than this is sooner drawn by the browser than sent. */
  readonly html: number
  /** Before a process that ended is started again, in milliseconds. */
  readonly pause: number
}

const LIMITS: DrawingLimits = { patience: 300, longest: 2_000, waiting: 20, html: 400_000, pause: 5_000 }

interface Waiting {
  readonly answer: (html: string | null) => void
  /** When it was asked for, in milliseconds since 1970. */
  readonly since: number
}

/**
 * Draws first pictures, one after the other, in a process of its own: neither what a worksheet is made of nor a mistake in it
 * takes anything from who answers people. Without it, or when it is late, pages are sent without a picture.
 */
export class Drawings {
  private readonly waiting = new Map<number, Waiting>()
  private child: ChildProcess | null = null
  private isReady = false
  private isOver = false
  private number = 0
  private answeredAt = 0
  private watch: NodeJS.Timeout | null = null

  /** @param program the application, built for drawing; none is drawn where it is not there */
  constructor(
    private readonly program: string,
    private readonly limits = LIMITS,
  ) {
    if (existsSync(program)) this.start()
  }

  /** The picture as HTML; null when there is none in time. */
  draw(drawing: Drawing): Promise<string | null> {
    const { child } = this
    if (!child || !this.isReady || this.waiting.size >= this.limits.waiting) return Promise.resolve(null)
    const number = ++this.number
    return new Promise((resolve) => {
      const late = setTimeout(() => resolve(null), this.limits.patience)
      this.waiting.set(number, {
        since: Date.now(),
        answer: (html) => {
          clearTimeout(late)
          resolve(html !== null && html.length <= this.limits.html ? html : null)
        },
      })
      child.send({ number, drawing } satisfies Asked, (error) => error && child.kill('SIGKILL'))
    })
  }

  /** Ends the process. */
  end(): void {
    this.isOver = true
    if (this.watch) clearInterval(this.watch)
    this.child?.kill('SIGKILL')
  }

  private start(): void {
    const child = fork(fileURLToPath(new URL('./drawProcess.js', import.meta.url)), [this.program], {
      serialization: 'json',
      execArgv: ['--max-old-space-size=256'],
      env: { PATH: process.env['PATH'], NODE_ENV: 'production' },
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    })
    this.child = child
    // It ends with us, and keeps nobody from ending.
    child.unref()
    child.channel?.unref()
    child.on('message', (message) => this.take(message as Answer))
    child.on('error', () => undefined)
    child.once('exit', () => this.gone())
    this.watch = setInterval(() => {
      const [oldest] = this.waiting.values()
      if (oldest && Date.now() - Math.max(oldest.since, this.answeredAt) > this.limits.longest) child.kill('SIGKILL')
    }, this.limits.longest / 4).unref()
  }

  private take(message: Answer): void {
    if ('ready' in message) {
      this.isReady = true
      return
    }
    this.answeredAt = Date.now()
    this.waiting.get(message.number)?.answer(message.html)
    this.waiting.delete(message.number)
  }

  private gone(): void {
    if (this.watch) clearInterval(this.watch)
    this.child = null
    this.isReady = false
    for (const { answer } of this.waiting.values()) answer(null)
    this.waiting.clear()
    if (!this.isOver) setTimeout(() => !this.isOver && this.start(), this.limits.pause).unref()
  }
}
