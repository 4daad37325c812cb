import type { MarkBack, MarkParts } from '@gavrin/core'
import { Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Copy } from './kept.entity.js'

/** In place of a person: all who hold a copy. */
export const ALL_HOLDERS = '00000000-0000-0000-0000-000000000000'

/** The mark of a copy, or what of it is one holder's alone: its parts, and what these come to. Only the staff of the class sees it. */
@Entity('mark')
export class Mark {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** Whose alone it is; {@link ALL_HOLDERS}: the copy's. */
  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @Column('jsonb')
  parts: MarkParts

  /** Counts its changes. */
  @Column('integer', { default: 0 })
  version: number

  /** What it was reckoned by; another one: it is to be reckoned anew. */
  @Column('text', { name: 'counted_by' })
  countedBy: string

  /** In hundredths of a point; null: none yet, or not by points. */
  @Column('integer', { nullable: true })
  total: number | null

  @Column('integer', { nullable: true })
  most: number | null

  /** The step of a scale. */
  @Column('text', { nullable: true })
  step: string | null

  @Column('boolean', { default: false })
  excused: boolean

  /** When somebody said that the marking of the copy is done; null: nobody has. */
  @Column('timestamptz', { name: 'done_at', nullable: true, transformer: MOMENT })
  doneAt: number | null

  @Column('timestamptz', { name: 'changed_at', transformer: MOMENT })
  changedAt: number

  @Column('uuid', { name: 'changed_by' })
  changedBy: string

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('mark_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('mark_school_id_changed_by_fkey', { changed_by: 'id' }))
  changer?: Relation<Person>
}

/** A mark as somebody got it back. What students see of marks is this, and nothing else. */
@Entity('handed_back')
@Index('handed_back_by_person', ['personId', 'schoolId'])
export class HandedBack {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** Who got it. */
  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @PrimaryColumn('timestamptz', { transformer: MOMENT })
  at: number

  /** Who handed it back. */
  @Column('uuid', { name: 'handed_by' })
  handedBy: string

  @Column('jsonb')
  mark: MarkBack

  /** What was written to them. */
  @Column('text')
  message: string

  /** When they first looked at it. */
  @Column('timestamptz', { name: 'looked_at', nullable: true, transformer: MOMENT })
  lookedAt: number | null

  /** When it was taken away again, before they looked. */
  @Column('timestamptz', { name: 'withdrawn_at', nullable: true, transformer: MOMENT })
  withdrawnAt: number | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('handed_back_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('handed_back_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('handed_back_school_id_handed_by_fkey', { handed_by: 'id' }))
  hander?: Relation<Person>
}

/** The tables of this file. */
export const MARK_ENTITIES = [Mark, HandedBack]
