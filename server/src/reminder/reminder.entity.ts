import type { LetterOf } from '@gavrin/core'
import { Check, Column, Entity, ForeignKey, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Copy } from '../kept/kept.entity.js'

/** A reminder that was sent to somebody about a copy, as it was written. */
@Entity('reminder')
@Check(
  'reminder_of_check',
  `reminded_of = ANY (ARRAY['not begun'::text, 'not submitted'::text, 'overdue'::text, 'question answered'::text, 'message'::text, 'handed back'::text])`,
)
@Index('reminder_by_person', ['personId', 'at', 'schoolId'])
@Index('reminder_by_message', ['messageId', 'schoolId'])
@ForeignKey('Message', ['schoolId', 'messageId'], ['schoolId', 'id'], { name: 'reminder_school_id_message_id_fkey' })
export class Reminder {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @PrimaryColumn('timestamptz', { transformer: MOMENT })
  at: number

  @Column('text', { name: 'reminded_of' })
  of: LetterOf

  /** The message by which it goes out. */
  @Column('uuid', { name: 'message_id' })
  messageId: string

  @Column('text')
  subject: string

  @Column('text')
  text: string

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('reminder_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('reminder_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** That the holders of a copy were reminded by themselves before it was due then. */
@Entity('reminded_before_due')
export class RemindedBeforeDue {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @PrimaryColumn('timestamptz', { name: 'due_at', transformer: MOMENT })
  dueAt: number

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('reminded_before_due_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>
}

/** The tables of this room. */
export const REMINDER_ENTITIES = [Reminder, RemindedBeforeDue]
