import { type Scope, type Viewer, cleanText, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomBytes, randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { AccessToken } from '../access/access.entity.js'
import { TOKEN_MARK, hashOf } from '../access/tokens.js'
import { hold } from '../access/viewer.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'

const DAY = 86_400_000
export const TOKEN_LIMITS = { ofPerson: 20, days: 366, name: 100 } as const

/** Tokens with which programs act in somebody's name. */
@Injectable()
export class TokensService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async all(viewer: Viewer) {
    hold(mayTeach(viewer))
    return inSchool(this.source, viewer.schoolId).find(
      AccessToken,
      { personId: viewer.personId },
      { select: ['id', 'name', 'scopes', 'madeAt', 'endsAt', 'usedAt'], order: { madeAt: 'DESC' } },
    )
  }

  /** Makes a token; it is told this once. */
  async make(
    viewer: Viewer,
    { name: typed, scopes, days }: { readonly name: string; readonly scopes: readonly Scope[]; readonly days: number },
  ): Promise<{ id: string; token: string }> {
    hold(mayTeach(viewer))
    const name = cleanText(typed)
    if (!name) throw malformed([{ code: 'no-name', field: 'name', sentence: 'Say what the token is for.' }])
    if (scopes.length === 0)
      throw malformed([{ code: 'no-scopes', field: 'scopes', sentence: 'Choose what the program may do.' }])
    const school = inSchool(this.source, viewer.schoolId)
    if ((await school.count(AccessToken, { personId: viewer.personId })) >= TOKEN_LIMITS.ofPerson)
      throw conflict('too-many-tokens', `You have ${TOKEN_LIMITS.ofPerson} tokens: take one back first.`)
    const token = `${TOKEN_MARK}${randomBytes(32).toString('base64url')}`
    const now = Date.now()
    const id = randomUUID()
    await school.insert(AccessToken, {
      ...{ id, personId: viewer.personId, name, hash: hashOf(token), scopes: [...scopes] },
      ...{ madeAt: now, endsAt: now + days * DAY, usedAt: null },
    })
    return { id, token }
  }

  /** Takes a token back: from now on it is good for nothing. */
  async takeBack(viewer: Viewer, id: string): Promise<void> {
    const gone = await inSchool(this.source, viewer.schoolId).delete(AccessToken, { id, personId: viewer.personId })
    if (gone === 0) throw notThere()
  }
}
