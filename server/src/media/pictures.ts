import { type Outcome, type Viewer, refuse } from '@gavrin/core'
import { type ChildProcess, fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { Turns } from '../common/turns.js'

/** A picture as it is kept: made anew from its pixels, so that nothing but pixels of the file that came remains. */
export interface KeptPicture {
  readonly type: 'image/png' | 'image/jpeg'
  readonly width: number
  readonly height: number
  readonly bytes: Buffer
}

/** What a picture is for: a photographed page has more pixels than a picture in a worksheet needs. */
export type PicturePurpose = 'photograph' | 'worksheet' | 'handed in'

export const PICTURE_BYTES = 20_000_000
const SECONDS = 20
/** The process that reads pictures ends when nothing came for so long, in milliseconds. */
const IDLE = 60_000

// Decoding takes a core and much memory; a second one at a time would take them from those who write.
const turns = new Turns({ atOnce: 1, ofPerson: 12, inAll: 120 })

let reader: ChildProcess | null = null
let idle: NodeJS.Timeout | null = null

/**
 * Reads a picture and writes it anew, when it is its turn. A process of its own does that: neither its time nor its memory is
 * that of who answers people.
 */
export function keepPicture(
  bytes: Uint8Array,
  purpose: PicturePurpose,
  who: Pick<Viewer, 'schoolId' | 'personId'>,
): Promise<Outcome<KeptPicture>> {
  return turns.take(who, () => read(bytes, purpose))
}

function read(bytes: Uint8Array, purpose: PicturePurpose): Promise<Outcome<KeptPicture>> {
  if (idle) clearTimeout(idle)
  const child = (reader ??= start())
  return new Promise((resolve) => {
    const end = (outcome: Outcome<KeptPicture>) => {
      clearTimeout(timer)
      child.off('message', answered)
      child.off('exit', gone)
      idle = setTimeout(stop, IDLE).unref()
      resolve(outcome)
    }
    const answered = (message: unknown) => {
      const outcome = message as Outcome<KeptPicture>
      end(outcome.ok ? { ok: true, value: { ...outcome.value, bytes: Buffer.from(outcome.value.bytes) } } : outcome)
    }
    const gone = () => {
      if (reader === child) reader = null
      end(tooMuch())
    }
    const timer = setTimeout(() => {
      if (reader === child) reader = null
      child.kill('SIGKILL')
    }, SECONDS * 1_000)
    child.on('message', answered)
    child.once('exit', gone)
    child.send({ bytes, purpose }, (error) => error && child.kill('SIGKILL'))
  })
}

function stop(): void {
  reader?.kill()
  reader = null
}

function start(): ChildProcess {
  const child = fork(fileURLToPath(new URL('./pictureProcess.js', import.meta.url)), {
    serialization: 'advanced',
    execArgv: ['--max-old-space-size=256'],
    env: { PATH: process.env['PATH'], UV_THREADPOOL_SIZE: '1' },
  })
  // It ends with us, and keeps nobody from ending.
  child.unref()
  child.channel?.unref()
  child.on('error', () => undefined)
  child.once('exit', () => {
    if (reader === child) reader = null
  })
  return child
}

const tooMuch = () =>
  refuse({
    code: 'picture-too-much',
    field: 'file',
    sentence: 'This picture takes too long to read: make it smaller and bring it in again.',
  })
