import type { ClassRole, ExtraTime, SchoolRole, Scope } from '@gavrin/core'
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
import { MOMENT, schoolKey } from '../database/columns.js'

/** A school: what every other row belongs to. */
@Entity('school')
export class School {
  @PrimaryColumn('uuid')
  id: string

  /** As people know it. */
  @Column('text')
  name: string

  /** IANA name of the zone on its wall, e.g. Europe/Lisbon. */
  @Column('text', { name: 'time_zone' })
  timeZone: string

  /** BCP 47 tag of its language and region, for dates and the order of names. */
  @Column('text')
  locale: string
}

/** Whoever a school knows: its office, teachers, students and guests. */
@Entity('person')
@Unique('person_card_name_key', ['cardName'])
@Unique('person_email_key_school_id_key', ['emailKey', 'schoolId'])
@Unique('person_number_key_school_id_key', ['numberKey', 'schoolId'])
@Check('person_check', `(first_name <> ''::text) OR (last_name <> ''::text)`)
@Check('person_check1', `(email IS NULL) = (email_key IS NULL)`)
@Check('person_check2', `(number IS NULL) = (number_key IS NULL)`)
@Check(
  'person_check3',
  `(merged_into IS NULL) OR ((email IS NULL) AND (number IS NULL) AND (card_name IS NULL) AND (password_hash IS NULL))`,
)
@Check('person_first_name_check', `length(first_name) <= 300`)
@Check('person_last_name_check', `length(last_name) <= 300`)
@Check('person_role_check', `role = ANY (ARRAY['office'::text, 'teacher'::text, 'student'::text, 'guest'::text])`)
@Index('person_unformed', ['schoolId'], { where: `(find_form IS NULL)` })
export class Person {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** What they are in the school; in a class they have a role of their own. */
  @Column('text')
  role: SchoolRole

  /** May be empty where somebody has one name. */
  @Column('text', { name: 'first_name' })
  first: string

  /** May be empty where somebody has one name. */
  @Column('text', { name: 'last_name' })
  last: string

  /** As it was typed; null: none is known. */
  @Column('text', { nullable: true })
  email: string | null

  /** The address in the form in which two are the same: lower case, without what is around it. */
  @Column('text', { name: 'email_key', nullable: true })
  emailKey: string | null

  /** Argon2id; null: cannot sign in yet. */
  @Column('text', { name: 'password_hash', nullable: true })
  passwordHash: string | null

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** Their number in the school, as it was typed. */
  @Column('text', { nullable: true })
  number: string | null

  /** The number in the form in which two are the same. */
  @Column('text', { name: 'number_key', nullable: true })
  numberKey: string | null

  /** The name on a sign-in card, for those without an address. */
  @Column('text', { name: 'card_name', nullable: true })
  cardName: string | null

  /** The person who was kept when two turned out to be one; null: nobody. */
  @Column('uuid', { name: 'merged_into', nullable: true })
  mergedInto: string | null

  /** Names, address and number folded for finding; null: to be folded again. */
  @Column('text', { name: 'find_form', nullable: true })
  findForm: string | null

  @ManyToOne(() => School, { nullable: false })
  @JoinColumn({ name: 'school_id', foreignKeyConstraintName: 'person_school_id_fkey' })
  school?: Relation<School>
}

/** A class of a year. */
@Entity('class')
@Unique('class_code_key', ['code'])
@Check('class_join_places_check', `(join_places >= 1) AND (join_places <= 500)`)
export class Class {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** As people know it, e.g. 7 Heron. */
  @Column('text')
  name: string

  /** What is taught. */
  @Column('text')
  subject: string

  /** The school year, e.g. 2026/27. */
  @Column('text')
  year: string

  /** The name of its colour. */
  @Column('text')
  ink: string

  /** The number of the newest handout: they are counted in a class. */
  @Column('integer', { name: 'last_handout_number', default: 0 })
  lastHandoutNumber: number

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** When it was put away; null: it runs. */
  @Column('timestamptz', { name: 'archived_at', nullable: true, transformer: MOMENT })
  archivedAt: number | null

  /** Whether its students comment on what others of them write. */
  @Column('boolean', { name: 'classmates_comment', default: true })
  classmatesComment: boolean

  /** Whether its students see when somebody of the staff has their copy open. */
  @Column('boolean', { name: 'staff_shown', default: true })
  staffShown: boolean

  /** Whether whoever helps in it gives marks too. */
  @Column('boolean', { name: 'helpers_mark', default: false })
  helpersMark: boolean

  /** Who of it has extra time. */
  @Column('jsonb', { name: 'extra_time', default: [] })
  extraTime: ExtraTime[]

  /** The class of an earlier year that it was made from. */
  @Column('uuid', { name: 'carried_from', nullable: true })
  carriedFrom: string | null

  /** The class code, with which somebody asks to be let in. */
  @Column('text')
  code: string

  /** Whether the class code lets somebody ask. */
  @Column('boolean', { name: 'join_open', default: false })
  joinOpen: boolean

  /** From when on; null: at once. */
  @Column('timestamptz', { name: 'join_opens_at', nullable: true, transformer: MOMENT })
  joinOpensAt: number | null

  /** Until when; null: without end. */
  @Column('timestamptz', { name: 'join_closes_at', nullable: true, transformer: MOMENT })
  joinClosesAt: number | null

  /** The number on the newest sign-in card. */
  @Column('integer', { name: 'last_card_number', default: 0 })
  lastCardNumber: number

  /** How many may wait to be let in at once. */
  @Column('integer', { name: 'join_places', default: 60 })
  joinPlaces: number

  @ManyToOne(() => School, { nullable: false })
  @JoinColumn({ name: 'school_id', foreignKeyConstraintName: 'class_school_id_fkey' })
  school?: Relation<School>
}

/** Who is in a class, and as what. Whoever left keeps a row. */
@Entity('class_member')
@Check(
  'class_member_role_check',
  `role = ANY (ARRAY['lead'::text, 'co-teacher'::text, 'helper'::text, 'named helper'::text, 'student'::text])`,
)
@Index('class_member_by_person', ['personId', 'schoolId'])
export class ClassMember {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'class_id' })
  classId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** What they are in the class. */
  @Column('text')
  role: Exclude<ClassRole, 'left' | 'none'>

  /** When they came into it first. */
  @Column('timestamptz', { name: 'joined_at', default: () => 'now()', transformer: MOMENT })
  joinedAt: number

  /** When they left; null: they are in it. */
  @Column('timestamptz', { name: 'left_at', nullable: true, transformer: MOMENT })
  leftAt: number | null

  /** What stands in the added columns, by the id of the column. */
  @Column('jsonb', { default: {} })
  cells: Record<string, string>

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('class_member_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('class_member_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The students that a named helper helps. */
@Entity('helped_student')
export class HelpedStudent {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The class in which this holds. */
  @PrimaryColumn('uuid', { name: 'class_id' })
  classId: string

  @PrimaryColumn('uuid', { name: 'helper_id' })
  helperId: string

  @PrimaryColumn('uuid', { name: 'student_id' })
  studentId: string

  @ManyToOne(() => ClassMember, { nullable: false })
  @JoinColumn(
    schoolKey('helped_student_school_id_class_id_helper_id_fkey', { class_id: 'classId', helper_id: 'personId' }),
  )
  helper?: Relation<ClassMember>

  @ManyToOne(() => ClassMember, { nullable: false })
  @JoinColumn(
    schoolKey('helped_student_school_id_class_id_student_id_fkey', { class_id: 'classId', student_id: 'personId' }),
  )
  student?: Relation<ClassMember>
}

/** Tries of people who have not signed in, to slow down those who guess. */
@Entity('stranger_attempt')
@Index('stranger_attempt_by_key', ['kind', 'key', 'at'])
export class StrangerAttempt {
  /** What was tried. */
  @Column('text')
  kind: string

  /** Whose tries are counted together: an address, or the code that was tried. */
  @Column('text')
  key: string

  /** When. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  /** Only to have a key. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  id: string
}

/** A token with which a program acts in the name of somebody. The token itself is not kept. */
@Entity('access_token')
@Index('access_token_by_hash', ['hash'], { unique: true })
@Index('access_token_by_person', ['personId', 'schoolId'])
export class AccessToken {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** What it is for, as its owner calls it. */
  @Column('text')
  name: string

  /** SHA-256 of the token. */
  @Column('bytea')
  hash: Buffer

  @Column('jsonb')
  scopes: Scope[]

  @Column('timestamptz', { name: 'made_at', transformer: MOMENT })
  madeAt: number

  @Column('timestamptz', { name: 'ends_at', transformer: MOMENT })
  endsAt: number

  /** When it was used last, to the minute; null: never. */
  @Column('timestamptz', { name: 'used_at', nullable: true, transformer: MOMENT })
  usedAt: number | null

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('access_token_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The tables of this room. */
export const ACCESS_ENTITIES = [School, Person, Class, ClassMember, HelpedStudent, StrangerAttempt, AccessToken]
