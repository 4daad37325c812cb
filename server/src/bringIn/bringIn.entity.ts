import type { DocumentKind, PhotoWork } from '@gavrin/core'
import { Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { Worksheet } from '../worksheet/worksheet.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** A document or photographs, on the way to becoming a worksheet. */
@Entity('bring_in')
@Index('bring_in_by_person', ['personId', 'schoolId'])
export class BroughtIn {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** The name of the file. */
  @Column('text')
  name: string

  /** What kind of document it is. */
  @Column('text')
  kind: DocumentKind

  /** Of the file, to know it again. */
  @Column('bytea')
  sha256: Buffer

  /** Bytes. */
  @Column('integer')
  size: number

  /** The file; null: it has become a worksheet. */
  @Column('bytea', { nullable: true })
  bytes: Buffer | null

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** What it has become; null: nothing yet. */
  @Column('uuid', { name: 'worksheet_id', nullable: true })
  worksheetId: string | null

  /** What was done with photographs so far; null: none. */
  @Column('jsonb', { nullable: true })
  work: PhotoWork | null

  /** Counts its changes: whoever writes says which they saw. */
  @Column('integer', { name: 'work_version', default: 0 })
  workVersion: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('bring_in_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Worksheet)
  @JoinColumn(schoolKey('bring_in_school_id_worksheet_id_fkey', { worksheet_id: 'id' }))
  worksheet?: Relation<Worksheet> | null
}

/** A photograph of it. */
@Entity('bring_in_picture')
export class BroughtInPicture {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'bring_in_id' })
  bringInId: string

  @PrimaryColumn('uuid')
  id: string

  /** The file. */
  @Column('bytea')
  bytes: Buffer

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  @ManyToOne(() => BroughtIn, { nullable: false, onDelete: 'CASCADE' })
  @JoinColumn(schoolKey('bring_in_picture_school_id_bring_in_id_fkey', { bring_in_id: 'id' }))
  bringIn?: Relation<BroughtIn>
}

/** The tables of this room. */
export const BRING_IN_ENTITIES = [BroughtIn, BroughtInPicture]
