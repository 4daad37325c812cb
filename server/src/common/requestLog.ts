import { ConsoleLogger } from '@nestjs/common'
import type { NextFunction, Request, Response } from 'express'
import { randomUUID } from 'node:crypto'

/** Gives each request an id: whoever answers it finds it again in what is logged, whoever asked in the answer's head. */
export function giveRequestId(_request: Request, response: Response, next: NextFunction): void {
  response.setHeader('X-Request-Id', randomUUID())
  next()
}

/** The id that was given to the request of an answer. */
export const requestIdOf = (response: Response): string | undefined => {
  const id = response.getHeader('X-Request-Id')
  return typeof id === 'string' ? id : undefined
}

/**
 * Something to be logged that belongs to a request. It is handed on by name, not found in an AsyncLocalStorage: that one has
 * every promise of the server call back for as long as it runs, which took a tenth of the time of writing in copies.
 */
export class OfRequest {
  readonly id: string | undefined
  constructor(
    response: Response,
    readonly text: string,
  ) {
    this.id = requestIdOf(response)
  }
}

type Logged = ReturnType<ConsoleLogger['getJsonLogObject']>
type Written = ConsoleLogger['stringifyMessage']

/** Warnings and errors on standard output, for machines an object a line with the id of the request, for people as text. */
export class RequestLogger extends ConsoleLogger {
  constructor(form: 'json' | 'text') {
    // Where standard output is no terminal, isTTY is not false but missing.
    super({
      logLevels: ['error', 'warn'],
      json: form === 'json',
      colors: form === 'text' && process.stdout.isTTY === true,
    })
  }

  protected override getJsonLogObject(...[message, options]: Parameters<ConsoleLogger['getJsonLogObject']>): Logged {
    if (!(message instanceof OfRequest)) return super.getJsonLogObject(message, options)
    return { ...super.getJsonLogObject(message.text, options), ...(message.id && { requestId: message.id }) }
  }

  protected override stringifyMessage(...[message, level]: Parameters<Written>): ReturnType<Written> {
    return super.stringifyMessage(message instanceof OfRequest ? message.text : message, level)
  }
}
