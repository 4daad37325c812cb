import { spawn, spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** The folder of the project. */
export const ROOT = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '')

export const say = (text) => console.log(`gavrin: ${text}`)

/** Something that a person has to put right. */
export class Stop extends Error {}

/** Runs a command to its end, showing what it prints. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { stdio: ['ignore', 'inherit', 'inherit'], cwd: ROOT, ...options })
  if (error || status !== 0) throw new Stop(`"${command} ${args.join(' ')}" did not succeed.`)
}

/** Runs a command and answers with what it printed and whether it succeeded. */
export function ask(command, args, options = {}) {
  const { status, stdout, error } = spawnSync(command, args, { encoding: 'utf8', cwd: ROOT, ...options })
  return { ok: !error && status === 0, text: stdout ?? '' }
}

/**
 * Runs a command, showing and keeping what it prints; "later": shown when it has ended, as of something that runs beside others.
 * What takes longer than `limit` minutes is ended with all that it
 * started, and has failed: a run that hangs must say where, and one on a
 * machine that has no time left is no hanging one.
 */
export function runKeeping(command, args, { limit = 40, later = false, ...options } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], cwd: ROOT, detached: true, ...options })
    const end = () => {
      try {
        process.kill(-child.pid, 'SIGKILL')
      } catch {
        // It has ended by itself.
      }
    }
    let text = ''
    let ended = false
    const timer = setTimeout(() => {
      ended = true
      say(`"${args.join(' ')}" took longer than ${limit} minutes and was ended.`)
      end()
    }, limit * 60_000)
    for (const [stream, out] of [
      [child.stdout, process.stdout],
      [child.stderr, process.stderr],
    ])
      stream.on('data', (data) => {
        text += data
        if (!later) out.write(data)
      })
    const finish = (ok) => {
      clearTimeout(timer)
      process.off('exit', end)
      if (later) process.stdout.write(text)
      resolve({ ok: ok && !ended, text })
    }
    process.on('exit', end)
    child.on('error', () => finish(false))
    // Something that it started and left behind may hold its output open.
    child.on('exit', (code) => setTimeout(() => finish(code === 0), 500))
  })
}

/** Runs a script's main function; says in one sentence what a person has to put right. */
export async function main(work) {
  try {
    await work()
  } catch (error) {
    if (!(error instanceof Stop)) throw error
    console.error(`gavrin: ${error.message}`)
    process.exitCode = 1
  }
}
