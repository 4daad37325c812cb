import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Who made a copy of their own of something to read. */
export class OwnCopies1765800000000 implements MigrationInterface {
  name = 'OwnCopies1765800000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE own_copy (
        school_id uuid NOT NULL,
        handout_id uuid NOT NULL,
        item_id text NOT NULL,
        person_id uuid NOT NULL,
        made_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, handout_id, item_id, person_id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
