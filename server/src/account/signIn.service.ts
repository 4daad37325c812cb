import { emailKey, type Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { hash, verify } from '@node-rs/argon2'
import { DataSource } from 'typeorm'
import { type Growing, holdOff, waitAfter } from '../access/attempts.js'
import { type Failures } from '../access/access.queries.js'
import { ProblemException } from '../common/problemDetails.js'
import {
  type PersonSignedIn,
  candidatesFor,
  forgetFailures,
  forgetOldFailures,
  signedInPerson,
  forgetOldDevices,
  failuresOf,
} from './account.queries.js'
import { inSchool } from '../database/inSchool.js'
import { KnownDevice, SignInFailure } from './account.entity.js'

/** OWASP's second recommended setting for Argon2id (the package's default algorithm): 19 MiB, two passes, one lane. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON2)

/** Failures within an hour, and what they cost in seconds; docs/running.md says what each guards. */
const PAIR: Growing = { free: 6, first: 5, most: 300 }
const DEVICE: Growing = { free: 8, first: 5, most: 60 }
/** A whole school may share an address. */
const ADDRESS: Growing = { free: 100, first: 2, most: 20 }

/** What it costs to check the password of nobody, so that the time taken does not tell who has an account. */
const decoy = hashPassword('nobody has this password')

/** Where a sign-in comes from. */
export interface From {
  readonly address: string
  /** The hash of the browser's mark; null: it has none. */
  readonly device: string | null
}

@Injectable()
export class SignInService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** The person with this e-mail, or name on a sign-in card, and password. */
  async signIn(email: string, password: string, from: From): Promise<Viewer> {
    const key = emailKey(email)
    const people = await candidatesFor(this.source, {
      key,
      cardName: key.toUpperCase().replace(/\s+/g, ''),
      device: from.device,
      address: from.address,
    })
    const isKnown = people.some(({ device_known }) => device_known)
    await this.holdOff(
      key,
      from,
      isKnown,
      people.some(({ address_known }) => address_known),
    )
    for (const person of people)
      if (await verify(person.password_hash, password)) {
        await forgetFailures(this.source, { key, address: from.address, device: from.device })
        return { schoolId: person.school_id, personId: person.id, role: person.role }
      }
    if (people.length === 0) await verify(await decoy, password)
    await this.source.manager.insert(SignInFailure, {
      emailKey: key,
      address: from.address,
      markHash: isKnown ? from.device : null,
    })
    await forgetOldFailures(this.source)
    throw new ProblemException(
      401,
      'wrong-password',
      'This e-mail and password do not belong together. Check both and try again.',
    )
  }

  /** Somebody who is signed in, as their pages speak of them. */
  async personOf({ schoolId, personId }: Viewer): Promise<PersonSignedIn | undefined> {
    const [person] = await signedInPerson(this.source, schoolId, personId)
    return person
  }

  /** This browser is known from now on, for this person. */
  async remember({ schoolId, personId }: Pick<Viewer, 'schoolId' | 'personId'>, mark: string, address: string) {
    await inSchool(this.source, schoolId).put(KnownDevice, { personId, markHash: mark, address, at: () => 'now()' }, [
      'address',
      'at',
    ])
    await forgetOldDevices(this.source, schoolId, personId)
  }

  /**
   * Slows attempts down. A browser in which this person signed in before is judged by itself alone: whatever others try
   * elsewhere, it comes in. Others wait by the pair of account and address; and where very much fails from an address, those
   * wait who never came from it.
   */
  private async holdOff(key: string, { address, device }: From, isKnown: boolean, addressKnown: boolean) {
    const [found] = await failuresOf(this.source, { key, address, device })
    const failures = (count: number, sinceLast: number | null): Failures => ({ count, sinceLast })
    const { pair, pairLast, device: own, deviceLast, address: all, addressLast } = found!
    if (isKnown) return holdOff(waitAfter(failures(own, deviceLast), DEVICE))
    const byAddress = addressKnown ? 0 : waitAfter(failures(all, addressLast), ADDRESS)
    holdOff(Math.max(waitAfter(failures(pair, pairLast), PAIR), byAddress))
  }
}
