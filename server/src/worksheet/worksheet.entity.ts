import type { ReservedPart } from '@gavrin/core'
import { Check, Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation, Unique } from 'typeorm'
import { Person, School } from '../access/access.entity.js'
import { KeptMedium } from '../media/media.entity.js'
import { MOMENT, NUMBER, schoolKey } from '../database/columns.js'

/** A worksheet: its draft. */
@Entity('worksheet')
@Unique('worksheet_built_in_school_id_key', ['builtIn', 'schoolId'])
@Check('worksheet_built_in_check', `built_in = ANY (ARRAY['blank page'::text, 'own file'::text, 'link'::text])`)
@Check('worksheet_check', `(built_in IS NULL) <> (owner_id IS NULL)`)
@Check('worksheet_school_may_check', `school_may = ANY (ARRAY['none'::text, 'view'::text, 'edit'::text])`)
@Index('worksheet_by_owner', ['ownerId', 'schoolId'])
export class Worksheet {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** Null: built in. */
  @Column('uuid', { name: 'owner_id', nullable: true })
  ownerId: string | null

  /** As it stands in the library. */
  @Column('text')
  title: string

  /** Its content, as it is being written. */
  @Column('jsonb')
  draft: object

  /** Counts the changes of the draft: whoever writes says which they saw. */
  @Column('integer', { default: 1 })
  version: number

  /** The version that was kept as an edition last; null: none. */
  @Column('integer', { name: 'kept_version', nullable: true })
  keptVersion: number | null

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** When the draft changed last. */
  @Column('timestamptz', { name: 'updated_at', default: () => 'now()', transformer: MOMENT })
  updatedAt: number

  /** Where its owner put it; null: in none. */
  @Column('uuid', { name: 'folder_id', nullable: true })
  folderId: string | null

  /** When it was put away; null: it is in the library. */
  @Column('timestamptz', { name: 'archived_at', nullable: true, transformer: MOMENT })
  archivedAt: number | null

  /** What all teachers of the school may do with it. */
  @Column('text', { name: 'school_may', default: 'none' })
  schoolMay: 'none' | 'view' | 'edit'

  /** Title and text folded for finding. */
  @Column('text', { name: 'find_words', default: '' })
  findWords: string

  /** What is given where no worksheet of the library is; null: it is one of the library. */
  @Column('text', { name: 'built_in', nullable: true })
  builtIn: 'blank page' | 'own file' | 'link' | null

  @ManyToOne(() => School, { nullable: false })
  @JoinColumn({ name: 'school_id', foreignKeyConstraintName: 'worksheet_school_id_fkey' })
  school?: Relation<School>

  @ManyToOne(() => Folder)
  @JoinColumn(schoolKey('worksheet_school_id_folder_id_fkey', { folder_id: 'id' }))
  folder?: Relation<Folder> | null

  @ManyToOne(() => Person)
  @JoinColumn(schoolKey('worksheet_school_id_owner_id_fkey', { owner_id: 'id' }))
  owner?: Relation<Person> | null
}

/** A worksheet as it was kept. Rows never change. */
@Entity('edition')
@Check('edition_number_check', `number > 0`)
export class Edition {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'worksheet_id' })
  worksheetId: string

  /** Counted in a worksheet, from 1. */
  @PrimaryColumn('integer')
  number: number

  /** The title at that time. */
  @Column('text')
  title: string

  /** The worksheet, as it was kept. */
  @Column('jsonb')
  content: object

  /** How many answer spaces are in it, each section counted once. */
  @Column('integer', { name: 'answer_spaces' })
  answerSpaces: number

  /** When it was kept. */
  @Column('timestamptz', { name: 'kept_at', default: () => 'now()', transformer: MOMENT })
  keptAt: number

  /** Who kept it; null: built in. */
  @Column('uuid', { name: 'kept_by', nullable: true })
  keptBy: string | null

  /** What its answer spaces add up to. */
  @Column('numeric', { transformer: NUMBER })
  points: number

  /** How many of its answer spaces are in sections for each member. */
  @Column('integer', { name: 'member_spaces' })
  memberSpaces: number

  /** How many of its answer spaces are in sections for each group. */
  @Column('integer', { name: 'group_spaces' })
  groupSpaces: number

  /** Its sections for named people: who, and how many answer spaces. */
  @Column('jsonb', { name: 'reserved_parts' })
  reservedParts: ReservedPart[]

  @ManyToOne(() => Worksheet, { nullable: false })
  @JoinColumn(schoolKey('edition_school_id_worksheet_id_fkey', { worksheet_id: 'id' }))
  worksheet?: Relation<Worksheet>
}

/** A folder in the library of a teacher. */
@Entity('folder')
@Check('folder_name_check', `(length(name) >= 1) AND (length(name) <= 100)`)
@Index('folder_by_owner', ['ownerId', 'schoolId'])
export class Folder {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'owner_id' })
  ownerId: string

  /** The folder it is in; null: in none. */
  @Column('uuid', { name: 'parent_id', nullable: true })
  parentId: string | null

  /** As its owner called it. */
  @Column('text')
  name: string

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  @ManyToOne(() => School, { nullable: false })
  @JoinColumn({ name: 'school_id', foreignKeyConstraintName: 'folder_school_id_fkey' })
  school?: Relation<School>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('folder_school_id_owner_id_fkey', { owner_id: 'id' }))
  owner?: Relation<Person>

  @ManyToOne(() => Folder)
  @JoinColumn(schoolKey('folder_school_id_parent_id_fkey', { parent_id: 'id' }))
  parent?: Relation<Folder> | null
}

/** What somebody noted for themselves at a worksheet. */
@Entity('worksheet_mark')
export class WorksheetMark {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @PrimaryColumn('uuid', { name: 'worksheet_id' })
  worksheetId: string

  /** Whether it stands at the top of their library. */
  @Column('boolean', { default: false })
  pinned: boolean

  /** When they opened it last; null: never. */
  @Column('timestamptz', { name: 'opened_at', nullable: true, transformer: MOMENT })
  openedAt: number | null

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('worksheet_mark_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Worksheet, { nullable: false })
  @JoinColumn(schoolKey('worksheet_mark_school_id_worksheet_id_fkey', { worksheet_id: 'id' }))
  worksheet?: Relation<Worksheet>
}

/** A colleague who may see or change a worksheet. */
@Entity('worksheet_share')
@Check('worksheet_share_may_check', `may = ANY (ARRAY['view'::text, 'edit'::text])`)
@Index('worksheet_share_by_person', ['personId', 'schoolId'])
export class WorksheetShare {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'worksheet_id' })
  worksheetId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** What they may do. */
  @Column('text')
  may: 'view' | 'edit'

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('worksheet_share_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Worksheet, { nullable: false })
  @JoinColumn(schoolKey('worksheet_share_school_id_worksheet_id_fkey', { worksheet_id: 'id' }))
  worksheet?: Relation<Worksheet>
}

/** A picture that a worksheet may show. */
@Entity('worksheet_medium')
@Index('worksheet_medium_by_medium', ['mediumId', 'schoolId'])
export class WorksheetMedium {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'worksheet_id' })
  worksheetId: string

  @PrimaryColumn('uuid', { name: 'medium_id' })
  mediumId: string

  @ManyToOne(() => KeptMedium, { nullable: false })
  @JoinColumn(schoolKey('worksheet_medium_school_id_medium_id_fkey', { medium_id: 'id' }))
  medium?: Relation<KeptMedium>

  @ManyToOne(() => Worksheet, { nullable: false })
  @JoinColumn(schoolKey('worksheet_medium_school_id_worksheet_id_fkey', { worksheet_id: 'id' }))
  worksheet?: Relation<Worksheet>
}

/** The tables of this room. */
export const WORKSHEET_ENTITIES = [Worksheet, Edition, Folder, WorksheetMark, WorksheetShare, WorksheetMedium]
