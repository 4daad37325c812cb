import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What was done with photographs before they are a worksheet lies with the upload, and so do the photographs added to it. */
export class PhotoWork1765000000000 implements MigrationInterface {
  name = 'PhotoWork1765000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE bring_in
        ADD COLUMN work jsonb,
        ADD COLUMN work_version integer NOT NULL DEFAULT 0;

      CREATE TABLE bring_in_picture (
        school_id uuid NOT NULL,
        bring_in_id uuid NOT NULL,
        id uuid NOT NULL,
        bytes bytea NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, bring_in_id, id),
        FOREIGN KEY (school_id, bring_in_id) REFERENCES bring_in (school_id, id) ON DELETE CASCADE
      );
      ALTER TABLE bring_in_picture ALTER COLUMN bytes SET STORAGE EXTERNAL;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
