import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What became of late writing, and which answer an entry of a journal is about. */
export class LateDecided1765400000000 implements MigrationInterface {
  name = 'LateDecided1765400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE late_update
        ADD COLUMN decision text CHECK (decision IN ('taken in', 'taken in part', 'left out')),
        ADD COLUMN decided_at timestamptz,
        ADD COLUMN decided_by uuid,
        ADD COLUMN decided_parts jsonb,
        ADD CONSTRAINT late_update_decided_check CHECK ((decision IS NULL) = (decided_at IS NULL) AND (decision IS NULL) = (decided_by IS NULL));
      -- What waits to be decided on is asked for by every board and desk, and is little.
      CREATE INDEX late_update_undecided ON late_update (copy_id, school_id) WHERE decision IS NULL;
      ALTER TABLE copy_journal ADD COLUMN space text;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
