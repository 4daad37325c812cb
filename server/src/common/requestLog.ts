import { ConsoleLogger } from '@nestjs/common'
import type { NextFunction, Request, Response } from 'express'
import { AsyncLocalStorage } from 'node:async_hooks'
import { randomUUID } from 'node:crypto'

const requests = new AsyncLocalStorage<string>()

/** The id of the request that is being answered. */
export const requestId = (): string | undefined => requests.getStore()

/** Gives each request an id: whoever answers it finds it again in what is logged, whoever asked in the answer's head. */
export function giveRequestId(_request: Request, response: Response, next: NextFunction): void {
  const id = randomUUID()
  response.setHeader('X-Request-Id', id)
  requests.run(id, next)
}

/** Takes the id up again after something that calls back from elsewhere, as the store of sessions does. */
export function keepRequestId(_request: Request, response: Response, next: NextFunction): void {
  const id = requestIdOf(response)
  if (id) requests.run(id, next)
  else next()
}

/** The id that was given to the request of an answer. */
export const requestIdOf = (response: Response): string | undefined => {
  const id = response.getHeader('X-Request-Id')
  return typeof id === 'string' ? id : undefined
}

type Logged = ReturnType<ConsoleLogger['getJsonLogObject']>

/** Warnings and errors on standard output, for machines an object a line with the id of the request, for people as text. */
export class RequestLogger extends ConsoleLogger {
  constructor(form: 'json' | 'text') {
    super({ logLevels: ['error', 'warn'], json: form === 'json', colors: form === 'text' && process.stdout.isTTY })
  }

  protected override getJsonLogObject(...of: Parameters<ConsoleLogger['getJsonLogObject']>): Logged {
    const id = requestId()
    return { ...super.getJsonLogObject(...of), ...(id && { requestId: id }) }
  }
}
