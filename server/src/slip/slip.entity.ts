import type { NoteText, Permission, Statement } from '@gavrin/core'
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
  Unique,
} from 'typeorm'
import { Class, Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { STATEMENT } from './keptStatement.js'

/** A handout of a class: what is to be given out, and what was. */
@Entity('handout')
@Unique('handout_class_id_number_school_id_key', ['classId', 'number', 'schoolId'])
@Check('handout_kind_check', `kind = ANY (ARRAY['handout'::text, 'shelf'::text, 'kept'::text])`)
@Index('handout_by_set', ['setId', 'schoolId'], { where: `(set_id IS NOT NULL)` })
@Index('one_kept_of_school', ['schoolId'], { unique: true, where: `(kind = 'kept'::text)` })
@Index('one_shelf_of_class', ['classId', 'schoolId'], { unique: true, where: `(kind = 'shelf'::text)` })
export class Handout {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'class_id' })
  classId: string

  /** Counted in a class. */
  @Column('integer')
  number: number

  /** As it stands on the slip. */
  @Column('text')
  title: string

  /** What is to be given out, as it stands on the slip. */
  @Column('jsonb', { transformer: STATEMENT })
  statement: Statement

  /** Counts the changes of the slip: whoever writes says which they saw. */
  @Column('integer', { default: 1 })
  version: number

  /** Who began it. */
  @Column('uuid', { name: 'created_by' })
  createdBy: string

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** When the slip changed last. */
  @Column('timestamptz', { name: 'updated_at', default: () => 'now()', transformer: MOMENT })
  updatedAt: number

  /** When it was handed out first; null: it is not. */
  @Column('timestamptz', { name: 'handed_out_at', nullable: true, transformer: MOMENT })
  handedOutAt: number | null

  /** When the last of it is due; null: without a time. */
  @Column('timestamptz', { name: 'due_at', nullable: true, transformer: MOMENT })
  dueAt: number | null

  /** Handouts to several classes at once have one statement and one version; null: to one class. */
  @Column('uuid', { name: 'set_id', nullable: true })
  setId: string | null

  /** The shelf of a class is a handout of its own kind; so is what all that was given to keep in a school hangs on, in a class of nobody. */
  @Column('text', { default: 'handout' })
  kind: 'handout' | 'shelf' | 'kept'

  /** The statement as it was last handed out; null: nothing is. */
  @Column('jsonb', { nullable: true, transformer: STATEMENT })
  given: Statement | null

  /** Before then no student sees it; null: at once. */
  @Column('timestamptz', { name: 'opens_at', nullable: true, transformer: MOMENT })
  opensAt: number | null

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('handout_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** A handing out, from its beginning to its end. */
@Entity('hand_out_run')
@Check('hand_out_run_kind_check', `kind = ANY (ARRAY['hand out'::text, 'by itself'::text, 'undo'::text])`)
@Index('hand_out_run_by_handout', ['handoutId', 'startedAt', 'schoolId'])
@Index('hand_out_run_unfinished', ['handoutId', 'schoolId'], { where: `(finished_at IS NULL)` })
export class HandOutRun {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'handout_id' })
  handoutId: string

  /** What was handed out. */
  @Column('jsonb', { transformer: STATEMENT })
  statement: Statement

  /** Who handed it out. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  /** How many slots it changes. */
  @Column('integer')
  total: number

  /** How many of them are done. */
  @Column('integer', { default: 0 })
  done: number

  /** When it began. */
  @Column('timestamptz', { name: 'started_at', default: () => 'now()', transformer: MOMENT })
  startedAt: number

  /** When it ended; null: it runs. */
  @Column('timestamptz', { name: 'finished_at', nullable: true, transformer: MOMENT })
  finishedAt: number | null

  /** Why it was begun. */
  @Column('text', { default: 'hand out' })
  kind: 'hand out' | 'by itself' | 'undo'

  /** What was handed out before it; null: nothing. */
  @Column('jsonb', { nullable: true, transformer: STATEMENT })
  before: Statement | null

  /** Only these slots; null: all. */
  @Column('text', { name: 'only_slots', nullable: true, array: true })
  onlySlots: string[] | null

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('hand_out_run_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>
}

/** A slot for which a handing out did not succeed. */
@Entity('hand_out_failure')
export class HandOutFailure {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'run_id' })
  runId: string

  /** The slot. */
  @PrimaryColumn('text', { name: 'slot_key' })
  slotKey: string

  /** Why, in a sentence. */
  @Column('text')
  reason: string

  /** When it was tried last. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  @ManyToOne(() => HandOutRun, { nullable: false })
  @JoinColumn(schoolKey('hand_out_failure_school_id_run_id_fkey', { run_id: 'id' }))
  run?: Relation<HandOutRun>
}

/** A cover note to somebody. */
@Entity('notice')
@Index('notice_by_person', ['personId', 'schoolId'])
export class Notice {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'handout_id' })
  handoutId: string

  /** Who it goes to and about whom, so that it is sent once. */
  @PrimaryColumn('text', { name: 'notice_key' })
  noticeKey: string

  /** Who gets it. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  /** The student it is about: themselves, or theirs whom staff look after. */
  @Column('uuid', { name: 'about_id' })
  aboutId: string

  /** The text, as it was when it was handed out. */
  @Column('jsonb')
  note: NoteText

  /** Before then nobody sees it; null: at once. */
  @Column('timestamptz', { name: 'opens_at', nullable: true, transformer: MOMENT })
  opensAt: number | null

  /** When it was written. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('notice_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('notice_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A slip that a teacher kept to fill others from. */
@Entity('recipe')
@Index('recipe_by_person', ['personId', 'schoolId'])
export class Recipe {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** As its owner called it. */
  @Column('text')
  name: string

  /** What of a slip is kept, of a form that any version of Gavrin wrote. */
  @Column('jsonb')
  statement: object

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('recipe_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A link by which guests come to a copy. */
@Entity('walk_in')
@Unique('walk_in_code_key', ['code'])
@Unique('walk_in_handout_id_item_id_school_id_key', ['handoutId', 'itemId', 'schoolId'])
@Check('walk_in_permission_check', `permission = ANY (ARRAY['view'::text, 'comment'::text, 'edit'::text])`)
@Check('walk_in_places_check', `(places >= 1) AND (places <= 500)`)
export class WalkIn {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'handout_id' })
  handoutId: string

  /** The item of the statement whose copies guests come to. */
  @Column('text', { name: 'item_id' })
  itemId: string

  /** What stands in the link. */
  @Column('text')
  code: string

  /** What guests may do. */
  @Column('text')
  permission: Exclude<Permission, 'none'>

  /** Whether it lets anybody in. */
  @Column('boolean', { name: 'is_open', default: true })
  isOpen: boolean

  /** Until when; null: without end. */
  @Column('timestamptz', { name: 'ends_at', nullable: true, transformer: MOMENT })
  endsAt: number | null

  /** Who made it. */
  @Column('uuid', { name: 'created_by' })
  createdBy: string

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** How many guests may come. */
  @Column('integer', { default: 60 })
  places: number

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('walk_in_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>
}

/** A guest who came. */
@Entity('walk_in_use')
@Index('walk_in_use_by_person', ['personId', 'schoolId'])
export class WalkInUse {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'walk_in_id' })
  walkInId: string

  /** Counts those who came. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  number: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** As they typed it. */
  @Column('text')
  name: string

  /** The guest of a like name whom they said they are not. */
  @Column('uuid', { name: 'like_id', nullable: true })
  likeId: string | null

  /** When they came. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  /** When they were taken off; null: they are in. */
  @Column('timestamptz', { name: 'cleared_at', nullable: true, transformer: MOMENT })
  clearedAt: number | null

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('walk_in_use_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => WalkIn, { nullable: false })
  @JoinColumn(schoolKey('walk_in_use_school_id_walk_in_id_fkey', { walk_in_id: 'id' }))
  walkIn?: Relation<WalkIn>
}

/** Which student of the class a guest is, as a teacher said. */
@Entity('guest_match')
@Index('guest_match_by_student', ['studentId', 'schoolId'])
export class GuestMatched {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'handout_id' })
  handoutId: string

  /** The item of the statement whose copies the guest came to. */
  @PrimaryColumn('text', { name: 'item_id' })
  itemId: string

  @PrimaryColumn('uuid', { name: 'guest_id' })
  guestId: string

  @Column('uuid', { name: 'student_id' })
  studentId: string

  /** What the guest wrote stands beside the student's own; else it is the student's own. */
  @Column('boolean')
  beside: boolean

  /** Who said so. */
  @Column('uuid', { name: 'matched_by' })
  matchedBy: string

  /** When. */
  @Column('timestamptz', { name: 'matched_at', default: () => 'now()', transformer: MOMENT })
  matchedAt: number

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('guest_match_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('guest_match_school_id_guest_id_fkey', { guest_id: 'id' }))
  guest?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('guest_match_school_id_student_id_fkey', { student_id: 'id' }))
  student?: Relation<Person>
}

/** Somebody made a copy of their own of something to read. */
@Entity('own_copy')
export class OwnCopyMade {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'handout_id' })
  handoutId: string

  /** The item of the statement that is given to read. */
  @PrimaryColumn('text', { name: 'item_id' })
  itemId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @Column('timestamptz', { name: 'made_at', default: () => 'now()', transformer: MOMENT })
  madeAt: number

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('own_copy_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('own_copy_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** A class of which somebody should look whether its handouts suit it. */
@Entity('class_look')
export class ClassLook {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The class; without a key that is checked, as triggers write it. */
  @PrimaryColumn('uuid', { name: 'class_id' })
  classId: string

  /** Grows with each wish to look: who looked takes off what they saw. */
  @Column('bigint', { default: () => `nextval('class_look_number')` })
  number: string
}

/** The tables of this room. */
export const SLIP_ENTITIES = [
  Handout,
  HandOutRun,
  HandOutFailure,
  Notice,
  Recipe,
  WalkIn,
  WalkInUse,
  GuestMatched,
  OwnCopyMade,
  ClassLook,
]
