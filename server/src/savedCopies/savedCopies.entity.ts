import { Check, Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import type { CopyFormat } from '../copy/copyOut.service.js'
import { MOMENT, NUMBER, schoolKey } from '../database/columns.js'

/** A copy to be saved, and the file that it becomes. */
export interface CopyToSave {
  readonly copyId: string
  readonly classId: string
  /** The name of its file, with its folder. */
  readonly name: string
}

/** A copy that could not be saved, and why. */
export interface NotSaved {
  /** Its place among the copies. */
  readonly place: number
  readonly name: string
  readonly why: string
}

/** Many copies saved as documents, or on their way to be, for one person. */
@Entity('saved_copies')
@Check('saved_copies_format_check', `format = ANY (ARRAY['pdf'::text, 'docx'::text, 'odt'::text, 'html'::text])`)
@Index('saved_copies_by_person', ['personId', 'begunAt', 'schoolId'])
@Index('saved_copies_unfinished', ['workedAt'], { where: 'finished_at IS NULL' })
export class SavedCopies {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** Who asked for them. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('text')
  format: CopyFormat

  @Column('text')
  title: string

  /** In the order in which they are saved. */
  @Column('jsonb')
  copies: CopyToSave[]

  @Column('jsonb', { default: [] })
  failed: NotSaved[]

  /** How many of the copies have been gone through. */
  @Column('integer', { default: 0 })
  done: number

  /** Of all files, in bytes. */
  @Column('bigint', { default: 0, transformer: NUMBER })
  size: number

  @Column('timestamptz', { name: 'begun_at', transformer: MOMENT })
  begunAt: number

  /** When a copy of it was saved last: whoever waits longest is next. */
  @Column('timestamptz', { name: 'worked_at', transformer: MOMENT })
  workedAt: number

  /** Null: not yet. */
  @Column('timestamptz', { name: 'finished_at', nullable: true, transformer: MOMENT })
  finishedAt: number | null

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('saved_copies_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A copy as a document. */
@Entity('saved_copies_file')
export class SavedCopiesFile {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'saved_id' })
  savedId: string

  /** Its place among the copies. */
  @PrimaryColumn('integer')
  place: number

  @Column('bytea')
  bytes: Buffer

  @ManyToOne(() => SavedCopies, { nullable: false, onDelete: 'CASCADE' })
  @JoinColumn(schoolKey('saved_copies_file_school_id_saved_id_fkey', { saved_id: 'id' }))
  saved?: Relation<SavedCopies>
}

/** The tables of this room. */
export const SAVED_COPIES_ENTITIES = [SavedCopies, SavedCopiesFile]
