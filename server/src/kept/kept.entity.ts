import type {
  CopyState,
  DecidedPart,
  GuestMatch,
  JournalKind,
  LateDecision,
  Named,
  Permission,
  ProgressBySpace,
  Way,
} from '@gavrin/core'
import {
  Check,
  Column,
  Entity,
  ForeignKey,
  Index,
  JoinColumn,
  ManyToOne,
  PrimaryColumn,
  PrimaryGeneratedColumn,
  type Relation,
  Unique,
} from 'typeorm'
import { Edition } from '../worksheet/worksheet.entity.js'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** A copy of a worksheet, given out. */
@Entity('copy')
@Index('copy_by_due', ['dueAt'], { where: '(NOT set_aside)' })
@Index('copy_pens_to_go_down', ['pensDownFrom'], { where: '(pens_down_from IS NOT NULL)' })
@Unique('copy_handout_id_slot_key_school_id_key', ['handoutId', 'slotKey', 'schoolId'])
@Check(
  'copy_classmates_may_check',
  `classmates_may = ANY (ARRAY['none'::text, 'view'::text, 'comment'::text, 'edit'::text])`,
)
@Check(
  'copy_way_check',
  `way = ANY (ARRAY['one each'::text, 'one per group'::text, 'one together'::text, 'to read'::text])`,
)
@ForeignKey('Handout', ['schoolId', 'handoutId'], ['schoolId', 'id'], { name: 'copy_school_id_handout_id_fkey' })
export class Copy {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryGeneratedColumn('uuid')
  id: string

  @Column('uuid', { name: 'handout_id' })
  handoutId: string

  /** Who it is for, in a form that is the same when a handout is planned anew. */
  @Column('text', { name: 'slot_key' })
  slotKey: string

  /** The item of the statement it is given by. */
  @Column('text', { name: 'item_id' })
  itemId: string

  /** The title of the copy. */
  @Column('text')
  title: string

  /** The worksheet that is given. */
  @Column('uuid', { name: 'worksheet_id' })
  worksheetId: string

  /** The number of the edition. */
  @Column('integer')
  edition: number

  /** What classmates without a part in it may do. */
  @Column('text', { name: 'classmates_may' })
  classmatesMay: Permission

  /** Null: without a time. */
  @Column('timestamptz', { name: 'due_at', nullable: true, transformer: MOMENT })
  dueAt: number | null

  /** Follows from the journal. */
  @Column('text', { default: 'not opened' })
  state: CopyState

  /** Whether the teacher stopped the pens. */
  @Column('boolean', { name: 'pens_down', default: false })
  pensDown: boolean

  /** When a teacher has set the pens to go down; null: they did not, or the moment has come. */
  @Column('timestamptz', { name: 'pens_down_from', nullable: true, transformer: MOMENT })
  pensDownFrom: number | null

  /** Whether it was taken back: kept, and shown to nobody but who wrote in it. */
  @Column('boolean', { name: 'set_aside', default: false })
  setAside: boolean

  /** When it was submitted; null: it is not. */
  @Column('timestamptz', { name: 'submitted_at', nullable: true, transformer: MOMENT })
  submittedAt: number | null

  /** How many answer spaces are answered. */
  @Column('integer', { default: 0 })
  answered: number

  /** How many words are written. */
  @Column('integer', { default: 0 })
  words: number

  /** How far each answer space is, by its address. */
  @Column('jsonb', { default: {} })
  progress: ProgressBySpace

  /** When something was written in it last; null: nothing is. */
  @Column('timestamptz', { name: 'written_at', nullable: true, transformer: MOMENT })
  writtenAt: number | null

  /** In how many stretches without a long pause it was written. */
  @Column('integer', { default: 0 })
  sittings: number

  /** When somebody wrote last, or something happened to it. */
  @Column('timestamptz', { name: 'last_activity_at', nullable: true, transformer: MOMENT })
  lastActivityAt: number | null

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** How it is given. */
  @Column('text', { default: 'one each' })
  way: Way

  /** The address of a given link; null: it is a worksheet. */
  @Column('text', { nullable: true })
  link: string | null

  /** Whether its holders may invite readers. */
  @Column('boolean', { name: 'may_invite', default: false })
  mayInvite: boolean

  /** The groups that have parts in one copy, in the order of the parts. */
  @Column('jsonb', { default: [] })
  places: { id: string; name: string; personIds: string[] }[]

  /** Before then nobody sees it; null: at once. */
  @Column('timestamptz', { name: 'opens_at', nullable: true, transformer: MOMENT })
  opensAt: number | null

  /** Whether the pens stop by themselves when it is due. */
  @Column('boolean', { name: 'pens_down_at_due', default: false })
  pensDownAtDue: boolean

  /** Whether it may be submitted after it was due. */
  @Column('boolean', { name: 'late_work', default: true })
  lateWork: boolean

  /** The edition that `answered`, `words` and `progress` were counted by; null: none. */
  @Column('integer', { name: 'counted_edition', nullable: true })
  countedEdition: number | null

  /** The address of an answer that cannot be read; null: all can. */
  @Column('text', { name: 'unreadable_space', nullable: true })
  unreadableSpace: string | null

  @ManyToOne(() => Edition, { nullable: false })
  @JoinColumn(schoolKey('copy_school_id_worksheet_id_edition_fkey', { worksheet_id: 'worksheetId', edition: 'number' }))
  editionGiven?: Relation<Edition>
}

/** Whose copy it is. */
@Entity('copy_holder')
@Check(
  'copy_holder_permission_check',
  `permission = ANY (ARRAY['none'::text, 'view'::text, 'comment'::text, 'edit'::text])`,
)
@Index('copy_holder_by_person', ['personId', 'schoolId'])
export class CopyHolder {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** What they may do with it. */
  @Column('text')
  permission: Permission

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('copy_holder_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('copy_holder_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** Who else may see a copy: a peer reader, or whom a holder invited. */
@Entity('copy_reader')
@Check('copy_reader_permission_check', `permission = ANY (ARRAY['view'::text, 'comment'::text, 'edit'::text])`)
@Index('copy_reader_by_person', ['personId', 'schoolId'])
export class CopyReader {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** What they may do with it. */
  @Column('text')
  permission: Exclude<Permission, 'none'>

  /** The holder who invited them; null: a peer reader. */
  @Column('uuid', { name: 'invited_by', nullable: true })
  invitedBy: string | null

  /** Since when. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('copy_reader_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('copy_reader_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** What happened to a copy. Rows never change. */
@Entity('copy_journal')
@Index('copy_journal_by_number', ['number', 'schoolId'])
export class CopyEntry {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** Counts what happened. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  number: string

  /** What happened. */
  @Column('text')
  kind: JournalKind

  /** When. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  /** Who did it; null: the clock. */
  @Column('uuid', { name: 'person_id', nullable: true })
  personId: string | null

  /** The address of the answer that it is about; null: the copy. */
  @Column('text', { nullable: true })
  space: string | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('copy_journal_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>
}

/** Who could write in a copy and no longer can; whose page may have more to send. */
@Entity('former_writer')
@Index('former_writer_once', ['copyId', 'personId', 'schoolId'], { unique: true })
export class FormerWriter {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** Null: all classmates. */
  @Column('uuid', { name: 'person_id', nullable: true })
  personId: string | null

  /** Only to have a key. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  id: string

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('former_writer_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>
}

/** A change of an answer, in the order it came. */
@Entity('live_update')
@Index('live_update_by_time', ['at'], { type: 'brin' })
export class LiveUpdate {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The copy; without a key that is checked, as changes come many at a time. */
  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** The address of the answer. */
  @PrimaryColumn('text')
  space: string

  /** Counts the changes of an answer, from 1. */
  @PrimaryColumn('integer')
  seq: number

  /** Who wrote it. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  /** When the server had it. */
  @Column('timestamptz', { transformer: MOMENT })
  at: number

  /** A change, as the Yjs package writes it. */
  @Column('bytea')
  bytes: Buffer
}

/** An answer as it was after some of its changes, so that it opens fast. */
@Entity('live_snapshot')
export class LiveSnapshot {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The copy; without a key that is checked, as changes come many at a time. */
  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** The address of the answer. */
  @PrimaryColumn('text')
  space: string

  /** The last change that is in it. */
  @Column('integer')
  seq: number

  /** The answer, as the Yjs package writes it. */
  @Column('bytea')
  bytes: Buffer

  /** Who is behind each id that a page writes under. */
  @Column('jsonb')
  writers: Record<string, string>
}

/** What somebody wrote that came too late to be in the copy. */
@Entity('late_update')
@Index('late_update_undecided', ['copyId', 'schoolId'], { where: '(decision IS NULL)' })
@Check(
  'late_update_decision_check',
  `decision = ANY (ARRAY['taken in'::text, 'taken in part'::text, 'left out'::text])`,
)
@Check(
  'late_update_decided_check',
  `((decision IS NULL) = (decided_at IS NULL)) AND ((decision IS NULL) = (decided_by IS NULL))`,
)
export class LateUpdate {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  /** The address of the answer. */
  @PrimaryColumn('text')
  space: string

  /** Who wrote it. */
  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** Counts what somebody wrote late in an answer. */
  @PrimaryColumn('integer')
  seq: number

  /** When the server had it. */
  @Column('timestamptz', { transformer: MOMENT })
  at: number

  /** Why it came too late: a code. */
  @Column('text')
  reason: string

  /** A change, as the Yjs package writes it. */
  @Column('bytea')
  bytes: Buffer

  /** What its teachers made of it; null: nothing yet. */
  @Column('text', { nullable: true })
  decision: LateDecision | null

  /** When, and who. */
  @Column('timestamptz', { name: 'decided_at', nullable: true, transformer: MOMENT })
  decidedAt: number | null

  @Column('uuid', { name: 'decided_by', nullable: true })
  decidedBy: string | null

  /** Of the last change that a decision was about: what it would have changed, and what of that was taken in. */
  @Column('jsonb', { name: 'decided_parts', nullable: true })
  decidedParts: DecidedPart[] | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('late_update_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>
}

/** Changes taken out of an answer that could not be read. */
@Entity('live_update_aside')
@Index('live_update_aside_by_copy', ['copyId', 'schoolId'])
export class LiveUpdateAside {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The copy; without a key that is checked, as changes come many at a time. */
  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** The address of the answer. */
  @Column('text')
  space: string

  /** Its place among the changes of the answer. */
  @Column('integer')
  seq: number

  /** Who wrote it. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  /** When the server had it. */
  @Column('timestamptz', { transformer: MOMENT })
  at: number

  /** A change, as the Yjs package writes it. */
  @Column('bytea')
  bytes: Buffer

  /** When it was taken out. */
  @Column('timestamptz', { name: 'aside_at', default: () => 'now()', transformer: MOMENT })
  asideAt: number

  /** Who had it taken out. */
  @Column('uuid', { name: 'aside_by' })
  asideBy: string

  /** Only to have a key. */
  @PrimaryGeneratedColumn('identity', { type: 'bigint', generatedIdentity: 'ALWAYS' })
  id: string
}

/** A copy that somebody was given to keep: as it was then, and their own copy of it once they have opened it. */
@Entity('given_to_keep')
@Index('given_to_keep_by_copy', ['copyId', 'schoolId'])
@Index('given_to_keep_by_person', ['personId', 'schoolId'])
@Index('given_to_keep_by_own', ['ownCopyId', 'schoolId'], { unique: true, where: '(own_copy_id IS NOT NULL)' })
export class GivenToKeep {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryGeneratedColumn('uuid')
  id: string

  /** The copy of the class, which stays. */
  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** Whose own it is. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  @Column('uuid', { name: 'given_by' })
  givenBy: string

  /** All that was given in one act. */
  @Column('uuid', { name: 'act_id' })
  actId: string

  /** The last change of each answer then. */
  @Column('jsonb')
  answers: Record<string, number>

  /** The edition, the holders, the groups with places and the guests of it then. */
  @Column('integer')
  edition: number

  @Column('jsonb')
  holders: Named[]

  @Column('jsonb')
  places: { id: string; name: string; personIds: string[] }[]

  @Column('jsonb')
  matches: GuestMatch[]

  /** Whether the places of others were hidden then. */
  @Column('boolean', { name: 'hides_others', default: false })
  hidesOthers: boolean

  /** Their own copy; null: they have not opened it. */
  @Column('uuid', { name: 'own_copy_id', nullable: true })
  ownCopyId: string | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('given_to_keep_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('given_to_keep_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('given_to_keep_school_id_given_by_fkey', { given_by: 'id' }))
  giver?: Relation<Person>

  @ManyToOne(() => Copy, { nullable: true })
  @JoinColumn(schoolKey('given_to_keep_school_id_own_copy_id_fkey', { own_copy_id: 'id' }))
  ownCopy?: Relation<Copy>
}

/** The tables of this room. */
export const KEPT_ENTITIES = [
  Copy,
  CopyHolder,
  CopyReader,
  CopyEntry,
  FormerWriter,
  LiveUpdate,
  LiveSnapshot,
  LateUpdate,
  LiveUpdateAside,
  GivenToKeep,
]
