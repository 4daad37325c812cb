import type { Problem } from '@gavrin/core'
import {
  type ArgumentsHost,
  Catch,
  type ExceptionFilter,
  HttpException,
  Logger,
  type ValidationError,
} from '@nestjs/common'
import type { Response } from 'express'
import { OfRequest, requestIdOf } from './requestLog.js'

/** An error for the person who asked, as problem details (RFC 9457). */
export class ProblemException extends HttpException {
  constructor(
    status: number,
    readonly code: string,
    readonly sentence: string,
    readonly more: { readonly errors?: readonly Problem[]; readonly [key: string]: unknown } = {},
  ) {
    super(sentence, status)
  }
}

export const notThere = () => new ProblemException(404, 'not-there', 'This is not here, or not for you to see.')
export const malformed = (problems: readonly Problem[]) =>
  new ProblemException(422, 'malformed', problems[0]?.sentence ?? 'This cannot be read.', { errors: problems })
export const conflict = (code: string, sentence: string, more: Record<string, unknown> = {}) =>
  new ProblemException(409, code, sentence, more)

/** What class-validator found, as problems at their fields. */
export function problemsOfValidation(errors: readonly ValidationError[], path = ''): Problem[] {
  return errors.flatMap((error) => {
    const field = path ? `${path}.${error.property}` : error.property
    const own = Object.values(error.constraints ?? {}).map((sentence): Problem => ({
      code: 'malformed',
      field,
      sentence,
    }))
    return [...own, ...problemsOfValidation(error.children ?? [], field)]
  })
}

const TITLES: Record<number, string> = {
  400: 'Not understood',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not here',
  409: 'Changed meanwhile',
  413: 'Too large',
  415: 'Not this kind',
  422: 'Not accepted',
  429: 'Too many attempts',
  500: 'Something broke',
  503: 'Not reachable now',
}

const AWAY = 'Gavrin cannot reach its database at the moment. Nothing is lost: try again in a moment.'

// Classes of SQLSTATE and network errors that mean the database is away, not that the request was wrong.
const AWAY_CODES = /^(08(?!P01)|57P0|53300|ECONN|EPIPE|ENOTFOUND|ETIMEDOUT)/

/** Whether an error says that the database is away. */
export function isDatabaseAway(error: unknown): boolean {
  const { code, message, driverError, errors } = (error ?? {}) as {
    code?: unknown
    message?: unknown
    driverError?: unknown
    errors?: unknown[]
  }
  if (typeof code === 'string' && AWAY_CODES.test(code)) return true
  if (
    typeof message === 'string' &&
    /Connection terminated|timeout exceeded when trying to connect|not queryable|Client was closed|connection error/i.test(
      message,
    )
  )
    return true
  if (Array.isArray(errors) && errors.some(isDatabaseAway)) return true
  return driverError !== undefined && driverError !== error && isDatabaseAway(driverError)
}

/** Whether the database says that what was sent cannot be a value at all: a text with a NUL, a date that is none. */
function isDataProblem(error: unknown): boolean {
  const { code } = (error ?? {}) as { code?: unknown }
  return typeof code === 'string' && /^22...$/.test(code)
}

@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('http')

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>()
    if (response.headersSent) return
    sendProblem(response, this.problemOf(error, response))
  }

  private problemOf(error: unknown, response: Response): ProblemException {
    if (error instanceof ProblemException) return error
    if (isDataProblem(error)) {
      this.log.warn(new OfRequest(response, error instanceof Error ? error.message : String(error)))
      return new ProblemException(400, 'not-understood', 'This holds a sign or a number that cannot be kept.')
    }
    if (isDatabaseAway(error)) return new ProblemException(503, 'database-away', AWAY)
    const status =
      error instanceof HttpException ? error.getStatus() : ((error as { status?: unknown } | null)?.status ?? 500)
    if (status === 404) return notThere()
    if (status === 413) return new ProblemException(413, 'too-large', 'This is more than Gavrin takes at once.')
    if (typeof status === 'number' && status >= 400 && status < 500)
      return new ProblemException(status, 'not-understood', 'This request could not be understood.')
    this.log.error(new OfRequest(response, error instanceof Error ? (error.stack ?? error.message) : String(error)))
    return new ProblemException(
      500,
      'broken',
      'Something broke on our side. What you had typed is still here: try again.',
    )
  }
}

export function sendProblem(response: Response, problem: ProblemException): void {
  const status = problem.getStatus()
  const id = requestIdOf(response)
  response
    .status(status)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type: `urn:gavrin:problem:${problem.code}`,
        title: TITLES[status] ?? 'Not done',
        status,
        detail: problem.sentence,
        // What broke stands in the log under this id.
        ...(status >= 500 && id && { instance: `urn:uuid:${id}` }),
        code: problem.code,
        ...problem.more,
      }),
    )
}
