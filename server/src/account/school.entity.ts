import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('school')
export class School {
  @PrimaryColumn('uuid') id: string
  @Column('text') name: string
  /** IANA time zone. */
  @Column('text', { name: 'time_zone' }) timeZone: string
  /** BCP 47 tag. */
  @Column('text') locale: string
}
