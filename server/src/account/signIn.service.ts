import { emailKey, type Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { hash, verify } from '@node-rs/argon2'
import { DataSource } from 'typeorm'
import { ProblemException } from '../common/problemDetails.js'

/** OWASP's second recommended setting for Argon2id (the package's default algorithm): 19 MiB, two passes, one lane. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON2)

/** Failures within a quarter of an hour. A whole school may share one address, so that limit is the higher one. */
const WINDOW = '15 minutes'
const ACCOUNT_LIMIT = 8
const ADDRESS_LIMIT = 200

/** What it costs to check the password of nobody, so that the time taken does not tell who has an account. */
const decoy = hashPassword('nobody has this password')

@Injectable()
export class SignInService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** The person with this e-mail, or name on a sign-in card, and password. */
  async signIn(email: string, password: string, address: string): Promise<Viewer> {
    const key = emailKey(email)
    const [failures] = await this.source.query<{ account: string; address: string }[]>(
      `SELECT count(*) FILTER (WHERE email_key = $1) AS account, count(*) FILTER (WHERE address = $2) AS address
         FROM sign_in_failure WHERE at > now() - interval '${WINDOW}' AND (email_key = $1 OR address = $2)`,
      [key, address],
    )
    if (Number(failures!.account) >= ACCOUNT_LIMIT || Number(failures!.address) >= ADDRESS_LIMIT)
      throw new ProblemException(
        429,
        'too-many-attempts',
        'There were too many attempts. Wait a quarter of an hour, then try again.',
      )

    const people = await this.source.query<
      { school_id: string; id: string; role: Viewer['role']; password_hash: string }[]
    >(
      'SELECT school_id, id, role, password_hash FROM person WHERE (email_key = $1 OR card_name = $2) AND password_hash IS NOT NULL',
      [key, key.toUpperCase().replace(/\s+/g, '')],
    )
    for (const person of people)
      if (await verify(person.password_hash, password)) {
        await this.source.query('DELETE FROM sign_in_failure WHERE email_key = $1', [key])
        return { schoolId: person.school_id, personId: person.id, role: person.role }
      }
    if (people.length === 0) await verify(await decoy, password)
    await this.source.query('INSERT INTO sign_in_failure (email_key, address) VALUES ($1, $2)', [key, address])
    await this.source.query(`DELETE FROM sign_in_failure WHERE at < now() - interval '1 day'`)
    throw new ProblemException(
      401,
      'wrong-password',
      'This e-mail and password do not belong together. Check both and try again.',
    )
  }
}
