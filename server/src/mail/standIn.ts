import { simpleParser } from 'mailparser'
import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'
import type { DataSource } from 'typeorm'
import { isUuid } from '../common/checked.js'
import { dropOldStandInMail } from './mail.queries.js'
import { StandInMail } from './mail.entity.js'

/** Tells the stand-in which message a mail is; no other mail server is sent it. */
export const MESSAGE_HEADER = 'x-gavrin-message'

const SIZE_LIMIT = 1_000_000

/** Stands in for a mail server where none is set: takes every message in, on this machine only, and delivers none. */
export class StandInMailServer {
  private constructor(
    private readonly server: SMTPServer,
    readonly url: string,
  ) {}

  static async open(source: DataSource): Promise<StandInMailServer> {
    const server = new SMTPServer({
      disabledCommands: ['AUTH', 'STARTTLS'],
      size: SIZE_LIMIT,
      onData: (stream, session, done) => {
        simpleParser(stream)
          .then(async ({ subject, text, headers }) => {
            const messageId = headers.get(MESSAGE_HEADER)
            await source.manager.insert(StandInMail, {
              recipient: session.envelope.rcptTo.map(({ address }) => address).join(', '),
              subject: subject ?? '',
              body: text ?? '',
              messageId: typeof messageId === 'string' && isUuid(messageId) ? messageId : null,
            })
            await dropOldStandInMail(source)
            done()
          })
          .catch(() => done(new Error('This message could not be kept.')))
      },
    })
    server.on('error', () => undefined)
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const { port } = server.server.address() as AddressInfo
    return new StandInMailServer(server, `smtp://127.0.0.1:${port}`)
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()))
  }
}
