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
} from 'typeorm'
import { Class } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** A part of the year of a class, in which handouts stand. */
@Entity('unit')
@Index('unit_by_class', ['classId', 'schoolId'])
export class Unit {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryGeneratedColumn('uuid')
  id: string

  @Column('uuid', { name: 'class_id' })
  classId: string

  /** As it is called in this class. */
  @Column('text')
  name: string

  /** Its place among the units of a class. */
  @Column('integer')
  position: number

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('unit_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** A column that a class added to its roster. */
@Entity('roster_column')
@Check('roster_column_kind_check', `kind = ANY (ARRAY['text'::text, 'tags'::text])`)
@Index('roster_column_by_class', ['classId', 'schoolId'])
export class KeptColumn {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryGeneratedColumn('uuid')
  id: string

  @Column('uuid', { name: 'class_id' })
  classId: string

  /** Its heading. */
  @Column('text')
  name: string

  /** Whether a cell is one text or several tags. */
  @Column('text')
  kind: 'text' | 'tags'

  /** Its place from the left. */
  @Column('integer')
  position: number

  /** When it was taken out; its cells are kept. Null: it is shown. */
  @Column('timestamptz', { name: 'removed_at', nullable: true, transformer: MOMENT })
  removedAt: number | null

  @ManyToOne(() => Class, { nullable: false })
  @JoinColumn(schoolKey('roster_column_school_id_class_id_fkey', { class_id: 'id' }))
  class?: Relation<Class>
}

/** The tables of this room. */
export const ROSTER_ENTITIES = [Unit, KeptColumn]
