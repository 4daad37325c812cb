import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { MOMENT, schoolKey } from '../database/columns.js'
import { Copy } from '../kept/kept.entity.js'
import { Handout } from '../slip/slip.entity.js'
import { Worksheet } from '../worksheet/worksheet.entity.js'

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

/** Answers that are accepted in a handout beside those of its worksheet. */
@Entity('accepted_answer')
export class AcceptedAnswer {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid', { name: 'handout_id' })
  handoutId: string

  @PrimaryColumn('uuid', { name: 'worksheet_id' })
  worksheetId: string

  /** The answer space. */
  @PrimaryColumn('text')
  space: string

  @Column('jsonb')
  texts: string[]

  @ManyToOne(() => Handout, { nullable: false })
  @JoinColumn(schoolKey('accepted_answer_school_id_handout_id_fkey', { handout_id: 'id' }))
  handout?: Relation<Handout>

  @ManyToOne(() => Worksheet, { nullable: false })
  @JoinColumn(schoolKey('accepted_answer_school_id_worksheet_id_fkey', { worksheet_id: 'id' }))
  worksheet?: Relation<Worksheet>
}

/** The tables of this room. */
export const BOARD_ENTITIES = [CopyLook, AcceptedAnswer]
