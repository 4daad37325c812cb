import connectPgSimple from 'connect-pg-simple'
import type { Request, RequestHandler, Response } from 'express'
import session, { type Session, type SessionData } from 'express-session'
import type { IncomingMessage, ServerResponse } from 'node:http'
import pg from 'pg'
import { ProblemException } from '../common/problemDetails.js'
import type { Settings } from '../common/settings.js'

export const SESSION_COOKIE = 'gavrin.session'
const WEEK = 7 * 24 * 3600 * 1000

export interface Sessions {
  readonly handler: RequestHandler
  /** The session that a request outside the application (an upgrade) comes with. */
  readonly read: (
    request: IncomingMessage,
    response: ServerResponse,
  ) => Promise<(Session & Partial<SessionData>) | undefined>
  /** Whether a session has not been ended. */
  readonly has: (id: string) => Promise<boolean>
  /** Called by the framework when it stops. */
  readonly onApplicationShutdown: () => Promise<void>
}

/** Sessions in the database; the cookie is http-only and same-site and lasts a week after the last visit. */
export function openSessions(settings: Settings): Sessions {
  const pool = new pg.Pool({ connectionString: settings.databaseUrl, max: 4, connectionTimeoutMillis: 10_000 })
  // The pool replaces broken connections by itself; without a listener the process would end.
  pool.on('error', () => undefined)
  const Store = connectPgSimple(session)
  const store = new Store({ pool, tableName: 'session', pruneSessionInterval: 3600, errorLog: () => undefined })
  const handler = session({
    name: SESSION_COOKIE,
    secret: settings.sessionSecret,
    store,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie: { httpOnly: true, sameSite: 'lax', secure: 'auto', maxAge: WEEK, path: '/' },
  })
  return {
    handler,
    read: (request, response) =>
      new Promise((resolve, reject) => {
        const asExpress = request as Request
        void handler(asExpress, response as Response, (error?: unknown) =>
          error
            ? reject(error instanceof Error ? error : new Error('The session could not be read.'))
            : resolve(asExpress.session),
        )
      }),
    has: (id) =>
      new Promise((resolve, reject) =>
        store.get(id, (error: unknown, found) =>
          error
            ? reject(error instanceof Error ? error : new Error('The session could not be read.'))
            : resolve(Boolean(found)),
        ),
      ),
    onApplicationShutdown: async () => {
      store.close()
      await pool.end()
    },
  }
}

/** Signs somebody in: with a new session each time, so that one that was planted before is worth nothing after it. */
export async function beginSession(
  request: Request,
  person: { readonly schoolId: string; readonly personId: string },
): Promise<void> {
  await settled((done) => request.session.regenerate(done))
  request.session.schoolId = person.schoolId
  request.session.personId = person.personId
  await settled((done) => request.session.save(done))
}

export const endSession = (request: Request): Promise<void> => settled((done) => request.session.destroy(done))

function settled(work: (done: (error: unknown) => void) => void): Promise<void> {
  return new Promise((resolve, reject) =>
    work((error) =>
      !error
        ? resolve()
        : reject(
            error instanceof Error
              ? error
              : new ProblemException(503, 'database-away', 'The session could not be kept: try again.'),
          ),
    ),
  )
}
