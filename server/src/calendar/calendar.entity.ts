import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, type Relation, Unique } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'

/** The secret address under which a calendar reads somebody's due times. */
@Entity('calendar_address')
@Unique('calendar_address_token_key', ['token'])
export class CalendarAddress {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  /** What is secret in it: 32 random bytes, in Base64 for addresses. */
  @Column('text')
  token: string

  /** When it was made. */
  @Column('timestamptz', { name: 'made_at', default: () => 'now()', transformer: MOMENT })
  madeAt: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('calendar_address_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>
}

/** The tables of this room. */
export const CALENDAR_ENTITIES = [CalendarAddress]
