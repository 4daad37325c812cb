import { Check, Column, Entity, ForeignKey, Index, JoinColumn, ManyToOne, PrimaryColumn, type Relation } from 'typeorm'
import { School } from '../access/access.entity.js'
import { MOMENT } from '../database/columns.js'

/** A picture in worksheets. */
@Entity('medium')
@Check('medium_type_check', `type = ANY (ARRAY['image/png'::text, 'image/jpeg'::text, 'image/webp'::text])`)
@Index('medium_by_bring_in', ['bringInId', 'schoolId'], { where: `(bring_in_id IS NOT NULL)` })
@ForeignKey('BroughtIn', ['schoolId', 'bringInId'], ['schoolId', 'id'], { name: 'medium_school_id_bring_in_id_fkey' })
export class KeptMedium {
  @PrimaryColumn('uuid', { name: 'school_id' })
  schoolId: string

  @PrimaryColumn('uuid')
  id: string

  /** Media type. */
  @Column('text')
  type: 'image/png' | 'image/jpeg' | 'image/webp'

  /** Pixels. */
  @Column('integer')
  width: number

  /** Pixels. */
  @Column('integer')
  height: number

  /** The file. */
  @Column('bytea')
  bytes: Buffer

  /** When it was made. */
  @Column('timestamptz', { name: 'created_at', default: () => 'now()', transformer: MOMENT })
  createdAt: number

  /** The document it came in with, until that has become a worksheet. */
  @Column('uuid', { name: 'bring_in_id', nullable: true })
  bringInId: string | null

  @ManyToOne(() => School, { nullable: false })
  @JoinColumn({ name: 'school_id', foreignKeyConstraintName: 'medium_school_id_fkey' })
  school?: Relation<School>
}

/** The tables of this room. */
export const MEDIA_ENTITIES = [KeptMedium]
