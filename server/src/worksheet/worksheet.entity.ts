import { Column, Entity, PrimaryColumn } from 'typeorm'

@Entity('worksheet')
export class Worksheet {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid') id: string
  /** Null: built in. */
  @Column('uuid', { name: 'owner_id', nullable: true }) ownerId: string | null
  @Column('text') title: string
  @Column('jsonb') draft: object
  @Column('integer', { default: 1 }) version: number
  @Column('integer', { name: 'kept_version', nullable: true }) keptVersion: number | null
  @Column('timestamptz', { name: 'updated_at' }) updatedAt: Date
  @Column('uuid', { name: 'folder_id', nullable: true }) folderId: string | null
  @Column('timestamptz', { name: 'archived_at', nullable: true }) archivedAt: Date | null
  @Column('text', { name: 'school_may', default: 'none' }) schoolMay: 'none' | 'view' | 'edit'
  @Column('text', { name: 'find_words', default: '' }) findWords: string
}

@Entity('edition')
export class Edition {
  @PrimaryColumn('uuid', { name: 'school_id' }) schoolId: string
  @PrimaryColumn('uuid', { name: 'worksheet_id' }) worksheetId: string
  @PrimaryColumn('integer') number: number
  @Column('text') title: string
  @Column('jsonb') content: object
  @Column('integer', { name: 'answer_spaces' }) answerSpaces: number
  @Column('timestamptz', { name: 'kept_at' }) keptAt: Date
  /** Null: built in. */
  @Column('uuid', { name: 'kept_by', nullable: true }) keptBy: string | null
}
