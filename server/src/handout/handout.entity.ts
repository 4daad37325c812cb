import { type Statement, checkStatement } from '@gavrin/core'
import { Column, Entity, PrimaryColumn, type ValueTransformer } from 'typeorm'

/** Statements kept by an older Gavrin have less in them: what is missing is filled in as it is read. */
export function keptStatement(kept: unknown): Statement {
  const checked = checkStatement(kept)
  if (!checked.ok) throw new Error(`A kept statement cannot be read: ${checked.problems[0]?.field}`)
  return checked.value
}

const statement: ValueTransformer = {
  to: (value: Statement | null) => value,
  from: (value: unknown) => (value === null || value === undefined ? null : keptStatement(value)),
}

@Entity('handout')
export class Handout {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  @Column('uuid', { name: 'class_id' }) classId: string
  /** Handouts to several classes at once have one statement and one version. */
  @Column('uuid', { name: 'set_id', nullable: true }) setId: string | null
  @Column('text', { default: 'handout' }) kind: 'handout' | 'shelf'
  @Column('integer') number: number
  @Column('text') title: string
  @Column('jsonb', { transformer: statement }) statement: Statement
  /** As it was last handed out; null: nothing is. */
  @Column('jsonb', { nullable: true, transformer: statement }) given: Statement | null
  @Column('integer', { default: 1 }) version: number
  @Column('uuid', { name: 'created_by' }) createdBy: string
  @Column('timestamptz', { name: 'created_at' }) createdAt: Date
  @Column('timestamptz', { name: 'updated_at' }) updatedAt: Date
  @Column('timestamptz', { name: 'handed_out_at', nullable: true }) handedOutAt: Date | null
  @Column('timestamptz', { name: 'opens_at', nullable: true }) opensAt: Date | null
  @Column('timestamptz', { name: 'due_at', nullable: true }) dueAt: Date | null
}

@Entity('hand_out_run')
export class HandOutRun {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  @Column('uuid', { name: 'handout_id' }) handoutId: string
  @Column('text', { default: 'hand out' }) kind: 'hand out' | 'by itself' | 'undo'
  @Column('jsonb', { transformer: statement }) statement: Statement
  /** What was handed out before it. */
  @Column('jsonb', { nullable: true, transformer: statement }) before: Statement | null
  /** Only these slots; null: all. */
  @Column('text', { name: 'only_slots', array: true, nullable: true }) onlySlots: string[] | null
  @Column('uuid', { name: 'person_id' }) personId: string
  @Column('integer') total: number
  @Column('integer', { default: 0 }) done: number
  @Column('timestamptz', { name: 'started_at' }) startedAt: Date
  @Column('timestamptz', { name: 'finished_at', nullable: true }) finishedAt: Date | null
}
