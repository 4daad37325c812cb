import { Check, Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation, Unique } from 'typeorm'
import { Class, Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** Groups of a class that belong together. */
@Entity('group_set')
@Index('group_set_by_class', ['classId', 'schoolId'])
export class KeptGroupSet {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'class_id' })
  classId: string

  /** As it is called in this class. */
  @Column('text')
  name: string

  /** Its place among the sets of a class. */
  @Column('integer')
  position: number

  /** The column whose values are spread over the groups; null: none. */
  @Column('uuid', { name: 'balance_column', nullable: true })
  balanceColumn: string | null

  /** Whether students may choose their group. */
  @Column('boolean', { name: 'sign_up_open', default: false })
  signUpOpen: boolean

  /** From when on; null: at once. */
  @Column('timestamptz', { name: 'sign_up_opens_at', nullable: true, transformer: MOMENT })
  signUpOpensAt: number | null

  /** Until when; null: without end. */
  @Column('timestamptz', { name: 'sign_up_closes_at', nullable: true, transformer: MOMENT })
  signUpClosesAt: number | null

  /** Counts the changes: whoever writes says which they saw. */
  @Column('integer', { default: 1 })
  version: number

  /** When it was taken out; null: it is shown. */
  @Column('timestamptz', { name: 'removed_at', nullable: true, transformer: MOMENT })
  removedAt: number | null

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** Pairs of ids of groups whose names look alike and who are two, the smaller id first. */
  @Column('jsonb', { default: [] })
  different: string[][]

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('group_set_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** A group. */
@Entity('class_group')
@Unique('class_group_id_set_id_school_id_key', ['id', 'setId', 'schoolId'])
@Check('class_group_places_check', `(places >= 1) AND (places <= 500)`)
@Index('class_group_by_set', ['setId', 'schoolId'])
export class ClassGroup {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'set_id' })
  setId: string

  /** As it is called. */
  @Column('text')
  name: string

  /** Its place in the set. */
  @Column('integer')
  position: number

  /** How many may be in it; null: any number. */
  @Column('integer', { nullable: true })
  places: number | null

  @ManyToOne(() => KeptGroupSet, { nullable: false })
  @JoinColumn(schoolKey('class_group_school_id_set_id_fkey', { set_id: 'id' }))
  set?: Relation<KeptGroupSet>
}

/** Who is in a group; in one of a set. */
@Entity('group_member')
@Index('group_member_by_group', ['groupId', 'schoolId'])
@Index('group_member_by_person', ['personId', 'schoolId'])
export class GroupMember {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The set of the group: somebody is in one group of each. */
  @PrimaryColumn('uuid', { name: 'set_id' })
  setId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @Column('uuid', { name: 'group_id' })
  groupId: string

  /** Whether they stay where they are when groups are made anew. */
  @Column('boolean', { default: false })
  locked: boolean

  /** Since when; their order in the group. */
  @Column('timestamptz', { default: () => 'now()', transformer: MOMENT })
  at: number

  @ManyToOne(() => ClassGroup, { nullable: false, onDelete: 'CASCADE' })
  @JoinColumn(schoolKey('group_member_group_id_set_id_school_id_fkey', { group_id: 'id', set_id: 'setId' }))
  group?: Relation<ClassGroup>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('group_member_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** Two who are to be together, or apart. */
@Entity('group_pair')
@Check('group_pair_check', `person_a < person_b`)
@Check('group_pair_kind_check', `kind = ANY (ARRAY['together'::text, 'apart'::text])`)
export class GroupPair {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'set_id' })
  setId: string

  /** The smaller id. */
  @PrimaryColumn('uuid', { name: 'person_a' })
  personA: string

  /** The greater id. */
  @PrimaryColumn('uuid', { name: 'person_b' })
  personB: string

  /** What is wished. */
  @Column('text')
  kind: 'together' | 'apart'

  @ManyToOne(() => KeptGroupSet, { nullable: false })
  @JoinColumn(schoolKey('group_pair_school_id_set_id_fkey', { set_id: 'id' }))
  set?: Relation<KeptGroupSet>
}

/** The tables of this room. */
export const GROUP_ENTITIES = [KeptGroupSet, ClassGroup, GroupMember, GroupPair]
