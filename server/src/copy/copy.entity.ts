import { Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Copy } from '../kept/kept.entity.js'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** A file handed in. */
@Entity('copy_file')
@Index('copy_file_by_copy', ['copyId', 'schoolId'])
export class CopyFile {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** The address of the answer; empty: it is with the whole copy. */
  @Column('text')
  space: string

  /** Of one with the whole copy: who put it there says that it is the answer. */
  @Column('boolean', { name: 'is_answer', default: false })
  isAnswer: boolean

  /** Of one with the whole copy: when it was taken out; null: it is there. */
  @Column('timestamptz', { name: 'removed_at', nullable: true, transformer: MOMENT })
  removedAt: number | null

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** The name of the file, as it is shown. */
  @Column('text')
  name: string

  /** Media type. */
  @Column('text')
  type: string

  /** The file. */
  @Column('bytea')
  bytes: Buffer

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('copy_file_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('copy_file_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** How far a peer reader is with a copy. */
@Entity('peer_reading')
export class PeerReading {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** When they looked at it first. */
  @Column('timestamptz', { name: 'opened_at', default: () => 'now()', transformer: MOMENT })
  openedAt: number

  /** When they said that it is read; null: they have not. */
  @Column('timestamptz', { name: 'done_at', nullable: true, transformer: MOMENT })
  doneAt: number | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('peer_reading_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('peer_reading_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The tables of this room. */
export const COPY_ENTITIES = [CopyFile, PeerReading]
