import { emailKey, type Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { hash, verify } from '@node-rs/argon2'
import { DataSource } from 'typeorm'
import { type Failures, type Growing, holdOff, waitAfter } from '../access/attempts.js'
import { ProblemException } from '../common/problemDetails.js'

/** OWASP's second recommended setting for Argon2id (the package's default algorithm): 19 MiB, two passes, one lane. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON2)

/** Failures within an hour, and what they cost in seconds; docs/running.md says what each guards. */
const PAIR: Growing = { free: 6, first: 5, most: 300 }
const DEVICE: Growing = { free: 8, first: 5, most: 60 }
/** A whole school may share an address. */
const ADDRESS: Growing = { free: 100, first: 2, most: 20 }
const WINDOW = '1 hour'

/** What it costs to check the password of nobody, so that the time taken does not tell who has an account. */
const decoy = hashPassword('nobody has this password')

/** Where a sign-in comes from. */
export interface From {
  readonly address: string
  /** The hash of the browser's mark; null: it has none. */
  readonly device: string | null
}

/** Somebody who is signed in, with what their pages need to know of the school. */
export interface PersonSignedIn {
  readonly id: string
  readonly role: Viewer['role']
  readonly first: string
  readonly last: string
  readonly email: string | null
  /** The name of the school. */
  readonly school: string
  readonly timeZone: string
  readonly locale: string
}

interface Candidate {
  readonly school_id: string
  readonly id: string
  readonly role: Viewer['role']
  readonly password_hash: string
  /** Signed in from this browser, or this address, before. */
  readonly device_known: boolean
  readonly address_known: boolean
}

@Injectable()
export class SignInService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** The person with this e-mail, or name on a sign-in card, and password. */
  async signIn(email: string, password: string, from: From): Promise<Viewer> {
    const key = emailKey(email)
    const people = await this.source.query<Candidate[]>(
      `SELECT p.school_id, p.id, p.role, p.password_hash,
              EXISTS (SELECT 1 FROM known_device d WHERE d.school_id = p.school_id AND d.person_id = p.id AND d.mark_hash = $3) AS device_known,
              EXISTS (SELECT 1 FROM known_device d WHERE d.school_id = p.school_id AND d.person_id = p.id AND d.address = $4) AS address_known
         FROM person p WHERE (p.email_key = $1 OR p.card_name = $2) AND p.password_hash IS NOT NULL`,
      [key, key.toUpperCase().replace(/\s+/g, ''), from.device, from.address],
    )
    const isKnown = people.some(({ device_known }) => device_known)
    await this.holdOff(
      key,
      from,
      isKnown,
      people.some(({ address_known }) => address_known),
    )
    for (const person of people)
      if (await verify(person.password_hash, password)) {
        await this.source.query(
          'DELETE FROM sign_in_failure WHERE email_key = $1 AND (address = $2 OR mark_hash = $3)',
          [key, from.address, from.device],
        )
        return { schoolId: person.school_id, personId: person.id, role: person.role }
      }
    if (people.length === 0) await verify(await decoy, password)
    await this.source.query('INSERT INTO sign_in_failure (email_key, address, mark_hash) VALUES ($1, $2, $3)', [
      key,
      from.address,
      isKnown ? from.device : null,
    ])
    await this.source.query(`DELETE FROM sign_in_failure WHERE at < now() - interval '1 day'`)
    throw new ProblemException(
      401,
      'wrong-password',
      'This e-mail and password do not belong together. Check both and try again.',
    )
  }

  /** Somebody who is signed in, as their pages speak of them. */
  async personOf({ schoolId, personId }: Viewer): Promise<PersonSignedIn | undefined> {
    const [person] = await this.source.query<PersonSignedIn[]>(
      `SELECT p.id, p.role, p.first_name AS first, p.last_name AS last, p.email, s.name AS school, s.time_zone AS "timeZone", s.locale
         FROM person p JOIN school s ON s.id = p.school_id WHERE p.school_id = $1 AND p.id = $2`,
      [schoolId, personId],
    )
    return person
  }

  /** This browser is known from now on, for this person. */
  async remember({ schoolId, personId }: Pick<Viewer, 'schoolId' | 'personId'>, mark: string, address: string) {
    await this.source.query(
      `INSERT INTO known_device (school_id, person_id, mark_hash, address) VALUES ($1, $2, $3, $4)
       ON CONFLICT (school_id, person_id, mark_hash) DO UPDATE SET address = excluded.address, at = now()`,
      [schoolId, personId, mark, address],
    )
    await this.source.query(
      `DELETE FROM known_device WHERE school_id = $1 AND person_id = $2 AND (at < now() - interval '1 year' OR mark_hash NOT IN (
         SELECT mark_hash FROM known_device WHERE school_id = $1 AND person_id = $2 ORDER BY at DESC LIMIT 50))`,
      [schoolId, personId],
    )
  }

  /**
   * Slows attempts down. A browser in which this person signed in before is judged by itself alone: whatever others try
   * elsewhere, it comes in. Others wait by the pair of account and address; and where very much fails from an address, those
   * wait who never came from it.
   */
  private async holdOff(key: string, { address, device }: From, isKnown: boolean, addressKnown: boolean) {
    const [found] = await this.source.query<
      { pair: number; pairLast: number; device: number; deviceLast: number; address: number; addressLast: number }[]
    >(
      `SELECT count(*) FILTER (WHERE mine AND mark_hash IS NULL AND address = $2)::int AS pair,
              extract(epoch FROM now() - max(at) FILTER (WHERE mine AND mark_hash IS NULL AND address = $2))::float8 AS "pairLast",
              count(*) FILTER (WHERE mine AND mark_hash = $3)::int AS device,
              extract(epoch FROM now() - max(at) FILTER (WHERE mine AND mark_hash = $3))::float8 AS "deviceLast",
              count(*) FILTER (WHERE mark_hash IS NULL AND address = $2)::int AS address,
              extract(epoch FROM now() - max(at) FILTER (WHERE mark_hash IS NULL AND address = $2))::float8 AS "addressLast"
         FROM (SELECT *, email_key = $1 AS mine FROM sign_in_failure WHERE at > now() - interval '${WINDOW}' AND (email_key = $1 OR address = $2)) f`,
      [key, address, device],
    )
    const failures = (count: number, sinceLast: number | null): Failures => ({ count, sinceLast })
    const { pair, pairLast, device: own, deviceLast, address: all, addressLast } = found!
    if (isKnown) return holdOff(waitAfter(failures(own, deviceLast), DEVICE))
    const byAddress = addressKnown ? 0 : waitAfter(failures(all, addressLast), ADDRESS)
    holdOff(Math.max(waitAfter(failures(pair, pairLast), PAIR), byAddress))
  }
}
