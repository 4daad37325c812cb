import type { MarkBookRules, PenMark, RubricRow } from '@gavrin/core'
import { Check, Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Class, Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Copy } from '../kept/kept.entity.js'
import { Handout } from '../slip/slip.entity.js'

/** A remark that a teacher keeps, to be used again. */
@Entity('stock_remark')
@Index('stock_remark_by_person', ['personId', 'short', 'schoolId'], { unique: true })
export class StockRemark {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** Whose it is. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  /** By which it is called up. */
  @Column('text')
  short: string

  @Column('text')
  text: string

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('stock_remark_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** What somebody who read a marked copy a second time would give it; beside the mark, which stays what it is. */
@Entity('second_reading')
export class SecondReading {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** Who read it. */
  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** In hundredths of a point; null: by a step alone. */
  @Column('integer', { nullable: true })
  total: number | null

  @Column('text', { nullable: true })
  step: string | null

  @Column('text', { default: '' })
  remark: string

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  /** The mark as it was when it was read a second time, and who had given it. */
  @Column('integer', { name: 'first_total', nullable: true })
  firstTotal: number | null

  @Column('text', { name: 'first_step', nullable: true })
  firstStep: string | null

  @Column('uuid', { name: 'first_by' })
  firstBy: string

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('second_reading_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('second_reading_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('second_reading_school_id_first_by_fkey', { first_by: 'id' }))
  firstMarker?: Relation<Person>
}

/** What the pen of whoever marks leaves on a page. */
@Entity('pen_mark')
@Check('pen_mark_kind_check', `kind = ANY (ARRAY['tick'::text, 'cross'::text, 'stroke'::text])`)
@Index('pen_mark_by_copy', ['copyId', 'schoolId'])
export class PenMarkRow {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** Chosen by the page it was drawn in. */
  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** Who drew it. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('text')
  kind: PenMark['kind']

  /** What it is over. */
  @Column('jsonb')
  over: PenMark['over']

  /** In thousandths of the width of what it is over. */
  @Column('jsonb')
  points: PenMark['points']

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  /** When it was taken out; null: it is there. */
  @Column('timestamptz', { name: 'deleted_at', nullable: true, transformer: MOMENT })
  deletedAt: number | null

  /** When it was handed back; null: only the staff sees it. */
  @Column('timestamptz', { name: 'released_at', nullable: true, transformer: MOMENT })
  releasedAt: number | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('pen_mark_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('pen_mark_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A rubric that a teacher keeps, to be used again. */
@Entity('kept_rubric')
@Index('kept_rubric_by_person', ['personId', 'schoolId'])
@Index('kept_rubric_shared', ['schoolId'], { where: 'shared' })
export class KeptRubricRow {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** Whose it is. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('text')
  name: string

  @Column('jsonb')
  rows: RubricRow[]

  /** The other teachers of the school may use it too. */
  @Column('boolean', { default: false })
  shared: boolean

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('kept_rubric_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A scale of a school, or of one of its classes. */
@Entity('kept_scale')
@Index('kept_scale_by_class', ['classId', 'schoolId'])
export class KeptScaleRow {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** Null: the school's. */
  @Column('uuid', { name: 'class_id', nullable: true })
  classId: string | null

  @Column('text')
  name: string

  /** Best first. */
  @Column('jsonb')
  steps: string[]

  /** From how many per cent each is reached; null: given by hand. */
  @Column('jsonb', { name: 'thresholds', nullable: true })
  from: number[] | null

  @ManyToOne(() => Class)
  @JoinColumn(schoolKey('kept_scale_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class> | null
}

/** What is to be handed back by itself at a time; it is gone when that is done. */
@Entity('hand_back_later')
@Index('hand_back_later_by_time', ['at'])
export class HandBackLater {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'handout_id' })
  handoutId: string

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  /** Who said so. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  /** The copies that were shown. */
  @Column('jsonb', { name: 'copy_ids' })
  copyIds: string[]

  @Column('text')
  message: string

  @Column('boolean', { name: 'by_mail' })
  byMail: boolean

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('hand_back_later_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('hand_back_later_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** How the mark book of a class reckons. */
@Entity('mark_book')
export class MarkBook {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'class_id' })
  classId: string

  @Column('jsonb')
  rules: MarkBookRules

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('mark_book_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** A column of a mark book for something that was marked on paper. */
@Entity('paper_column')
@Index('paper_column_by_class', ['classId', 'schoolId'])
export class PaperColumn {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'class_id' })
  classId: string

  @Column('text')
  name: string

  /** The name of its unit; null: none. */
  @Column('text', { nullable: true })
  unit: string | null

  /** Out of how many, in hundredths of a point. */
  @Column('integer')
  most: number

  @Column('timestamptz', { name: 'made_at', transformer: MOMENT })
  madeAt: number

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('paper_column_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** A mark for something on paper. */
@Entity('paper_mark')
export class PaperMark {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'column_id' })
  columnId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** In hundredths of a point; null: none. */
  @Column('integer', { nullable: true })
  total: number | null

  @Column('boolean', { default: false })
  excused: boolean

  @Column('timestamptz', { name: 'changed_at', transformer: MOMENT })
  changedAt: number

  @Column('uuid', { name: 'changed_by' })
  changedBy: string

  @ManyToOne(() => PaperColumn, { nullable: false })
  @JoinColumn(schoolKey('paper_mark_school_id_column_id_fkey', { column_id: 'id' }))
  column?: Relation<PaperColumn>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('paper_mark_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('paper_mark_school_id_changed_by_fkey', { changed_by: 'id' }))
  changer?: Relation<Person>
}

/** What somebody of the staff notes of a student of a class, for themselves alone. */
@Entity('student_note')
export class StudentNote {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'class_id' })
  classId: string

  /** Of whom. */
  @PrimaryColumn('uuid', { name: 'student_id' })
  studentId: string

  /** Whose. */
  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @Column('text')
  text: string

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('student_note_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('student_note_school_id_student_id_fkey', { student_id: 'id' }))
  student?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('student_note_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The tables of this room. */
export const MARKING_ENTITIES = [
  HandBackLater,
  StockRemark,
  SecondReading,
  PenMarkRow,
  KeptRubricRow,
  KeptScaleRow,
  MarkBook,
  PaperColumn,
  PaperMark,
  StudentNote,
]
