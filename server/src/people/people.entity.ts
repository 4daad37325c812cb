import { Check, Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** Two people of whom it was said that they are two. */
@Entity('different_people')
@Check('different_people_check', `one_id < two_id`)
export class DifferentPeople {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  /** The smaller id. */
  @PrimaryColumn('uuid', { name: 'one_id' })
  oneId: string

  /** The greater id. */
  @PrimaryColumn('uuid', { name: 'two_id' })
  twoId: string

  /** Who said so. */
  @Column('uuid', { name: 'said_by' })
  saidBy: string

  /** When. */
  @Column('timestamptz', { name: 'said_at', default: () => 'now()', transformer: MOMENT })
  saidAt: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('different_people_school_id_one_id_fkey', { one_id: 'id' }))
  one?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('different_people_school_id_said_by_fkey', { said_by: 'id' }))
  saidByPerson?: Relation<Person>

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('different_people_school_id_two_id_fkey', { two_id: 'id' }))
  two?: Relation<Person>
}

/** The tables of this room. */
export const PEOPLE_ENTITIES = [DifferentPeople]
