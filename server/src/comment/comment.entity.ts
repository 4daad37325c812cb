import type { Anchor, ThreadKind } from '@gavrin/core'
import { Check, Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Copy } from '../kept/kept.entity.js'

/** What was said of one thing: a comment, or a question to the staff, with what answers it. */
@Entity('comment_thread')
@Check('comment_thread_kind_check', `kind = ANY (ARRAY['comment'::text, 'question'::text, 'remark'::text])`)
@Index('comment_thread_by_copy', ['copyId', 'schoolId'])
@Index('comment_thread_unreleased', ['copyId', 'schoolId'], {
  where: "((kind = 'remark'::text) AND (released_at IS NULL))",
})
@Index('comment_thread_waiting', ['copyId', 'schoolId'], { where: 'waiting' })
export class CommentThread {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** Chosen by the page it was written in. */
  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'copy_id' })
  copyId: string

  /** Who began it. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('text')
  kind: ThreadKind

  /** Seen by the staff of the class and who began it alone. */
  @Column('boolean', { name: 'staff_only', default: false })
  staffOnly: boolean

  /** What it is about. */
  @Column('jsonb')
  anchor: Anchor

  /** A question that is not answered yet; follows from its comments. */
  @Column('boolean', { default: false })
  waiting: boolean

  /** When a remark was handed back; null: only the staff sees it. */
  @Column('timestamptz', { name: 'released_at', nullable: true, transformer: MOMENT })
  releasedAt: number | null

  /** Counts its changes: what a window hears late is told from what is newer. */
  @Column('integer', { default: 0 })
  version: number

  /** When somebody said that it is done with; null: it is not. */
  @Column('timestamptz', { name: 'done_at', nullable: true, transformer: MOMENT })
  doneAt: number | null

  @Column('uuid', { name: 'done_by', nullable: true })
  doneBy: string | null

  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('comment_thread_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('comment_thread_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person)
  @JoinColumn(schoolKey('comment_thread_school_id_done_by_fkey', { done_by: 'id' }))
  doer?: Relation<Person>
}

/** A comment. Deleted ones are kept, and shown to nobody. */
@Entity('comment')
@Index('comment_by_thread', ['threadId', 'schoolId'])
@Index('comment_by_copy', ['copyId', 'schoolId'])
@Index('comment_by_person', ['personId', 'schoolId'])
export class Comment {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** Chosen by the page it was written in: sent twice it is there once. */
  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'copy_id' })
  copyId: string

  @Column('uuid', { name: 'thread_id' })
  threadId: string

  @Column('uuid', { name: 'person_id' })
  personId: string

  /** They were of the staff of the class when they wrote it. */
  @Column('boolean', { name: 'by_staff' })
  byStaff: boolean

  /** Which of the peer readers of the copy wrote it, where these are not named; null: it is signed. */
  @Column('smallint', { name: 'reader_number', nullable: true })
  readerNumber: number | null

  @Column('text')
  text: string

  /** When the server had it. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  @Column('timestamptz', { name: 'edited_at', nullable: true, transformer: MOMENT })
  editedAt: number | null

  @Column('timestamptz', { name: 'deleted_at', nullable: true, transformer: MOMENT })
  deletedAt: number | null

  @Column('uuid', { name: 'deleted_by', nullable: true })
  deletedBy: string | null

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('comment_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => CommentThread, { nullable: false })
  @JoinColumn(schoolKey('comment_school_id_thread_id_fkey', { thread_id: 'id' }))
  thread?: Relation<CommentThread>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('comment_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person)
  @JoinColumn(schoolKey('comment_school_id_deleted_by_fkey', { deleted_by: 'id' }))
  deleter?: Relation<Person>
}

/** Somebody who is named in a comment. */
@Entity('comment_mention')
@Index('comment_mention_by_person', ['personId', 'schoolId'])
export class CommentMention {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'comment_id' })
  commentId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @ManyToOne(() => Comment, { nullable: false, onDelete: 'CASCADE' })
  @JoinColumn(schoolKey('comment_mention_school_id_comment_id_fkey', { comment_id: 'id' }))
  comment?: Relation<Comment>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('comment_mention_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** Up to when somebody has seen the comments of a copy. */
@Entity('comment_seen')
export class SeenComments {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('comment_seen_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('comment_seen_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The tables of this room. */
export const COMMENT_ENTITIES = [CommentThread, Comment, CommentMention, SeenComments]
