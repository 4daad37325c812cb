import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Copy } from '../kept/kept.entity.js'

/** When somebody of the staff looked at a copy last: what was written since is new to them. */
@Entity('copy_look')
export class CopyLook {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'person_id' })
  personId: string

  @PrimaryColumn('uuid', { name: 'copy_id' })
  copyId: string

  @Column('timestamptz', { transformer: MOMENT })
  at: number

  @ManyToOne(() => Person, { nullable: false })
  @JoinColumn(schoolKey('copy_look_school_id_person_id_fkey', { person_id: 'id' }))
  person?: Relation<Person>

  @ManyToOne(() => Copy, { nullable: false })
  @JoinColumn(schoolKey('copy_look_school_id_copy_id_fkey', { copy_id: 'id' }))
  copy?: Relation<Copy>
}

/** The tables of this room. */
export const BOARD_ENTITIES = [CopyLook]
