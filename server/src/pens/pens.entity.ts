import type { PensChange, PensWish } from '@gavrin/core'
import { Check, Column, Entity, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Handout } from '../slip/slip.entity.js'

/** What was done with the pens of copies of a handout. */
@Entity('pens_act')
@Check('pens_act_act_check', `act = ANY (ARRAY['down'::text, 'down later'::text, 'up'::text])`)
@Index('pens_act_by_handout', ['handoutId', 'at', 'schoolId'])
export class PensAct {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  @Column('uuid', { name: 'handout_id' })
  handoutId: string

  /** Who did it. */
  @Column('uuid', { name: 'person_id' })
  personId: string

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  @Column('text')
  act: PensWish['act']

  /** After how many minutes they go down, without the extra time of some; null: at once. */
  @Column('integer', { nullable: true })
  minutes: number | null

  /** How the pens of each copy stood before and after. */
  @Column('jsonb')
  changes: PensChange[]

  /** When it was undone; null: it is not. */
  @Column('timestamptz', { name: 'undone_at', nullable: true, transformer: MOMENT })
  undoneAt: number | null

  @Column('uuid', { name: 'undone_by', nullable: true })
  undoneBy: string | null

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('pens_act_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('pens_act_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Person)
  @JoinColumn(schoolKey('pens_act_school_id_undone_by_fkey', { undone_by: 'id' }))
  undoer?: Relation<Person>
}

/** The tables of this room. */
export const PENS_ENTITIES = [PensAct]
