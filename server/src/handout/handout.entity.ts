import type { Statement } from '@gavrin/core'
import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('handout')
export class Handout {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  @Column('uuid', { name: 'class_id' }) classId: string
  @Column('integer') number: number
  @Column('text') title: string
  @Column('jsonb') statement: Statement
  @Column('integer', { default: 1 }) version: number
  @Column('uuid', { name: 'created_by' }) createdBy: string
  @Column('timestamptz', { name: 'created_at' }) createdAt: Date
  @Column('timestamptz', { name: 'updated_at' }) updatedAt: Date
  @Column('timestamptz', { name: 'handed_out_at', nullable: true }) handedOutAt: Date | null
  @Column('timestamptz', { name: 'due_at', nullable: true }) dueAt: Date | null
}

@Entity('hand_out_run')
export class HandOutRun {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  @Column('uuid', { name: 'handout_id' }) handoutId: string
  @Column('jsonb') statement: Statement
  @Column('uuid', { name: 'person_id' }) personId: string
  @Column('integer') total: number
  @Column('integer', { default: 0 }) done: number
  @Column('timestamptz', { name: 'started_at' }) startedAt: Date
  @Column('timestamptz', { name: 'finished_at', nullable: true }) finishedAt: Date | null
}
