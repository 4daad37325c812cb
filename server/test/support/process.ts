import { type ChildProcess, spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** The server as a process of its own, that can be killed at any moment. */
export class ServerProcess {
  private constructor(
    private readonly child: ChildProcess,
    readonly url: string,
  ) {}

  private static readonly running = new Set<ChildProcess>()

  /** Ends whatever a failed test left behind. */
  static endAll(): void {
    for (const child of ServerProcess.running) child.kill('SIGKILL')
  }

  static start(databaseUrl: string): Promise<ServerProcess> {
    const child = spawn(process.execPath, [fileURLToPath(new URL('../../dist/main.js', import.meta.url))], {
      env: {
        PATH: process.env['PATH'],
        DATABASE_URL: databaseUrl,
        PORT: '0',
        SESSION_SECRET: 'a secret of the tests, long enough to pass',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    ServerProcess.running.add(child)
    child.once('exit', () => ServerProcess.running.delete(child))
    return new Promise((resolve, reject) => {
      child.stdout.on('data', (data: Buffer) => {
        const url = /listens on (http\S+)/.exec(data.toString())?.[1]
        if (url) resolve(new ServerProcess(child, url))
      })
      child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
    })
  }

  /** Kill -9; resolves when it is gone. */
  async kill(signal: 'SIGKILL' | 'SIGTERM' = 'SIGKILL'): Promise<void> {
    if (this.child.exitCode !== null || this.child.signalCode !== null) return
    await new Promise((resolve) => {
      this.child.once('exit', resolve)
      this.child.kill(signal)
    })
  }
}
