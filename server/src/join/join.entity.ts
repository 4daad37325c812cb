import {
  Check,
  Column,
  Entity,
  Index,
  JoinColumn,
  ManyToOne,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
} from 'typeorm'
import { Class } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** Somebody who asks to be let into a class. */
@Entity('join_request')
@Check('join_request_state_check', `state = ANY (ARRAY['waiting'::text, 'let in'::text, 'turned away'::text])`)
@Index('join_request_by_class', ['classId', 'schoolId'], { where: `(state = 'waiting'::text)` })
export class KeptJoinRequest {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryGeneratedColumn('uuid')
  id: string

  @Column('uuid', { name: 'class_id' })
  classId: string

  /** As they typed it. */
  @Column('text', { name: 'first_name' })
  first: string

  /** As they typed it. */
  @Column('text', { name: 'last_name' })
  last: string

  /** As they typed it. */
  @Column('text', { nullable: true })
  email: string | null

  /** The address in the form in which two are the same. */
  @Column('text', { name: 'email_key', nullable: true })
  emailKey: string | null

  /** When they asked. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  /** What became of it. */
  @Column('text', { default: 'waiting' })
  state: 'waiting' | 'let in' | 'turned away'

  /** When it was decided; null: it waits. */
  @Column('timestamptz', { name: 'decided_at', nullable: true, transformer: MOMENT })
  decidedAt: number | null

  /** Who decided it. */
  @Column('uuid', { name: 'decided_by', nullable: true })
  decidedBy: string | null

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('join_request_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** The tables of this room. */
export const JOIN_ENTITIES = [KeptJoinRequest]
