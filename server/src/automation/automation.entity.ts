import { Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person, School } from '../access/access.entity.js'
import { MOMENT, NUMBER, schoolKey } from '../database/columns.js'
import { Copy } from '../kept/kept.entity.js'
import type { FeedKind } from './feedKinds.js'

/** How far the feed of a school is numbered. */
@Entity('feed_head')
export class FeedHead {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The number of its last event. */
  @Column('bigint', { default: 0, transformer: NUMBER })
  last: number

  /** Of the entries of journals before this one all are numbered that ever will be. */
  @Column('bigint', { default: 0, transformer: NUMBER })
  low: number

  @ManyToOne(() => School, { nullable: false })
  @JoinColumn({ name: 'school_id', referencedColumnName: 'id', foreignKeyConstraintName: 'feed_head_school_id_fkey' })
  school?: Relation<School>
}

/** An entry of the journal of a copy, with its number in the feed of the school. */
@Entity('feed_event')
@Index('feed_event_by_entry', ['entry', 'schoolId'], { unique: true })
export class FeedEvent {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** Counts the events of a school, without gaps. */
  @PrimaryColumn('bigint', { transformer: NUMBER })
  number: number

  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** Which entry it is. */
  @Column('bigint', { transformer: NUMBER })
  entry: number

  /** When it got its number. */
  @Column('timestamptz', { name: 'numbered_at', default: () => 'now()', transformer: MOMENT })
  numberedAt: number

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('feed_event_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>
}

/** An address that is told what happens, in the name of somebody. */
@Entity('webhook')
@Index('webhook_by_person', ['personId', 'schoolId'])
@Index('webhook_next', ['nextAt'], { where: 'stopped_at IS NULL' })
export class Webhook {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('text')
  address: string

  /** What is sent is signed with it. */
  @Column('text')
  secret: string

  /** Of what it is told. */
  @Column('jsonb')
  kinds: FeedKind[]

  @Column('timestamptz', { name: 'made_at', transformer: MOMENT })
  madeAt: number

  /** The number of the last event that it has taken, or that it was passed over with. */
  @Column('bigint', { name: 'sent_up_to', transformer: NUMBER })
  sentUpTo: number

  /** When it is looked for events next. */
  @Column('timestamptz', { name: 'next_at', transformer: MOMENT })
  nextAt: number

  /** Times in a row that it did not take what was sent. */
  @Column('integer', { default: 0 })
  failures: number

  /** When something was sent last; null: never. */
  @Column('timestamptz', { name: 'last_at', nullable: true, transformer: MOMENT })
  lastAt: number | null

  /** Why it did not take it, the last time; null: it did. */
  @Column('text', { nullable: true })
  problem: string | null

  /** When it was given up; null: it is not. */
  @Column('timestamptz', { name: 'stopped_at', nullable: true, transformer: MOMENT })
  stoppedAt: number | null

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('webhook_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The tables of this room. */
export const AUTOMATION_ENTITIES = [FeedHead, FeedEvent, Webhook]
