import {
  Check,
  Column,
  Entity,
  ForeignKey,
  Index,
  JoinColumn,
  ManyToOne,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
  Unique,
} from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** A link sent by mail, with which somebody sets a password. */
@Entity('account_link')
@Unique('account_link_token_hash_key', ['tokenHash'])
@Check('account_link_purpose_check', `purpose = ANY (ARRAY['invitation'::text, 'new password'::text])`)
@Index('account_link_by_person', ['personId', 'schoolId'])
export class AccountLink {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** SHA-256 of what stands in the link. */
  @PrimaryColumn('text', { name: 'token_hash' })
  tokenHash: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** Why it was sent. */
  @Column('text')
  purpose: 'invitation' | 'new password'

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** From then on it opens nothing. */
  @Column('timestamptz', { name: 'expires_at', transformer: MOMENT })
  expiresAt: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('account_link_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A mail that goes out or went. */
@Entity('message')
@Unique('message_handout_id_notice_key_school_id_key', ['handoutId', 'noticeKey', 'schoolId'])
@Check(
  'message_kind_check',
  `kind = ANY (ARRAY['invitation'::text, 'new password'::text, 'cover note'::text, 'reminder'::text])`,
)
@Check('message_state_check', `state = ANY (ARRAY['waiting'::text, 'sent'::text, 'failed'::text, 'withdrawn'::text])`)
@Index('message_by_class', ['classId', 'createdAt', 'schoolId'])
@Index('message_by_person', ['personId', 'schoolId'])
@ForeignKey('Notice', ['schoolId', 'handoutId', 'noticeKey'], ['schoolId', 'handoutId', 'noticeKey'], {
  name: 'message_school_id_handout_id_notice_key_fkey',
})
export class Message {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryGeneratedColumn('uuid')
  id: string

  /** What it is. */
  @Column('text')
  kind: 'invitation' | 'new password' | 'cover note' | 'reminder'

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** Where it goes: what was known when it was put down. */
  @Column('text')
  address: string

  /** The class it is from; null: the school's office. */
  @Column('uuid', { name: 'class_id', nullable: true })
  classId: string | null

  /** Who sent it; null: somebody who forgot a password. */
  @Column('uuid', { name: 'created_by', nullable: true })
  createdBy: string | null

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** `withdrawn`: what it is about was taken back before it went out. */
  @Column('text', { default: 'waiting' })
  state: 'waiting' | 'sent' | 'failed' | 'withdrawn'

  /** How often it was tried. */
  @Column('integer', { default: 0 })
  attempts: number

  /** When a mail server took it. */
  @Column('timestamptz', { name: 'sent_at', nullable: true, transformer: MOMENT })
  sentAt: number | null

  /** Why it has not gone out, in a sentence. */
  @Column('text', { nullable: true })
  problem: string | null

  /** The handout of a cover note or a reminder. */
  @Column('uuid', { name: 'handout_id', nullable: true })
  handoutId: string | null

  /** The cover note; null: this is none. */
  @Column('text', { name: 'notice_key', nullable: true })
  noticeKey: string | null

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('message_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** Mail kept where a school has no mail server: for trying out. */
@Entity('stand_in_mail')
export class StandInMail {
  /** Counts them. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  id: string

  /** When it came. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  /** The addresses it went to, with commas. */
  @Column('text')
  recipient: string

  /** Its subject line. */
  @Column('text')
  subject: string

  /** Its text. */
  @Column('text')
  body: string

  /** What was sent. */
  @Column('uuid', { name: 'message_id', nullable: true })
  messageId: string | null
}

/** The tables of this room. */
export const MAIL_ENTITIES = [AccountLink, Message, StandInMail]
