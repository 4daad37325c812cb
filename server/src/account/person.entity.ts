import type { SchoolRole } from '@gavrin/core'
import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('person')
export class Person {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  @Column('text') role: SchoolRole
  @Column('text', { name: 'first_name' }) firstName: string
  @Column('text', { name: 'last_name' }) lastName: string
  @Column('text', { nullable: true }) email: string | null
  /** The form under which two spellings are one person's. */
  @Column('text', { name: 'email_key', nullable: true }) emailKey: string | null
  /** Argon2id; null: invited, has no password yet. */
  @Column('text', { name: 'password_hash', nullable: true, select: false }) passwordHash?: string | null
}
