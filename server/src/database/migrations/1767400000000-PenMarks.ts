import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What the pen of whoever marks leaves on a page. */
export class PenMarks1767400000000 implements MigrationInterface {
  name = 'PenMarks1767400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE pen_mark (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        kind text NOT NULL CHECK (kind IN ('tick', 'cross', 'stroke')),
        over jsonb NOT NULL,
        points jsonb NOT NULL,
        at timestamptz NOT NULL,
        deleted_at timestamptz,
        released_at timestamptz,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX pen_mark_by_copy ON pen_mark (copy_id, school_id);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
