import {
  Column,
  Entity,
  Index,
  JoinColumn,
  ManyToOne,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
} from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** Browsers that somebody has signed in from. */
@Entity('known_device')
export class KnownDevice {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** SHA-256 of the mark in a cookie of this browser. */
  @PrimaryColumn('text', { name: 'mark_hash' })
  markHash: string

  /** The network address it came from last. */
  @Column('text')
  address: string

  /** When it was used last. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('known_device_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** Sign-ins that did not succeed. */
@Entity('sign_in_failure')
@Index('sign_in_failure_by_address', ['address', 'at'])
@Index('sign_in_failure_by_email', ['emailKey', 'at'])
export class SignInFailure {
  /** What was typed as address or card name, in the form in which two are the same. */
  @Column('text', { name: 'email_key' })
  emailKey: string

  /** The network address it came from. */
  @Column('text')
  address: string

  /** When. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  /** The browser, where it is known to this person. */
  @Column('text', { name: 'mark_hash', nullable: true })
  markHash: string | null

  /** Only to have a key. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  id: string
}

/** Who is signed in. */
@Entity('session', { synchronize: false })
@Index('session_by_expiry', ['expire'])
@Index('session_by_person', ['personId', 'schoolId'])
export class Session {
  /** What the cookie names. */
  @PrimaryColumn('character varying')
  sid: string

  /** What the store of sessions keeps. */
  @Column('json')
  sess: object

  /** UTC. From then on it is no more. */
  @Column('timestamp', { precision: 6 })
  expire: Date

  /** Out of `sess`. */
  @Column('uuid', { name: 'school_id', nullable: true })
  schoolId: string | null

  /** Out of `sess`. */
  @Column('uuid', { name: 'person_id', nullable: true })
  personId: string | null
}

/** The tables of this room. */
export const ACCOUNT_ENTITIES = [KnownDevice, SignInFailure, Session]
