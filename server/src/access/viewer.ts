import type { Ruling, Viewer } from '@gavrin/core'
import { type CanActivate, type ExecutionContext, Injectable, SetMetadata, createParamDecorator } from '@nestjs/common'
import { Reflector } from '@nestjs/core'
import { InjectDataSource } from '@nestjs/typeorm'
import type { Request } from 'express'
import { DataSource } from 'typeorm'
import { ProblemException, notThere } from '../common/problemDetails.js'
import { roleInSchool } from './access.queries.js'
import { viewerOfToken } from './tokens.js'

declare module 'express-session' {
  interface SessionData {
    schoolId: string
    personId: string
  }
}

const OPEN = 'gavrin:open'
/** Marks a route that needs nobody to be signed in. */
export const OpenToAll = () => SetMetadata(OPEN, true)

type ViewerRequest = Request & { viewer?: Viewer }

/** The person a session belongs to, read afresh, so that a removed account stops at once. */
export async function viewerOfSession(
  source: DataSource,
  session: { schoolId?: string; personId?: string } | undefined,
): Promise<Viewer | null> {
  if (!session?.personId || !session.schoolId) return null
  const { schoolId, personId } = session
  const role = await roleInSchool(source, schoolId, personId)
  return role ? { schoolId, personId, role } : null
}

@Injectable()
export class SignedInGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<ViewerRequest>()
    const viewer = (await viewerOfToken(this.source, request)) ?? (await viewerOfSession(this.source, request.session))
    if (viewer) request.viewer = viewer
    else if (!this.reflector.getAllAndOverride<boolean>(OPEN, [context.getHandler(), context.getClass()]))
      throw new ProblemException(401, 'not-signed-in', 'Sign in to go on.')
    return true
  }
}

/** Who asks. */
export const Asking = createParamDecorator(
  (_: unknown, context: ExecutionContext) => context.switchToHttp().getRequest<ViewerRequest>().viewer,
)

/** Goes on only if the core said yes; a stranger learns nothing from the answer. */
export function hold(ruling: Ruling): void {
  if (ruling.may) return
  if (ruling.code === 'not-there') throw notThere()
  throw new ProblemException(403, ruling.code, ruling.sentence)
}
