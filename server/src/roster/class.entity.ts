import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('class')
export class Class {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  @Column('text') name: string
  @Column('text') subject: string
  @Column('text') year: string
  /** Colour of the answers, one of the inks of `web/src/ui/inks.ts`. */
  @Column('text') ink: string
  @Column('integer', { name: 'last_handout_number', default: 0 }) lastHandoutNumber: number
}

@Entity('class_member')
export class ClassMember {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid', { name: 'class_id' }) classId: string
  @PrimaryColumn('uuid', { name: 'person_id' }) personId: string
  @Column('text') role: 'lead' | 'co-teacher' | 'helper' | 'student'
  @Column('timestamptz', { name: 'joined_at' }) joinedAt: Date
  @Column('timestamptz', { name: 'left_at', nullable: true }) leftAt: Date | null
}
