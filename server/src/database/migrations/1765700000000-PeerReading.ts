import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What peer readers have read, and comments of those who are not named. */
export class PeerReading1765700000000 implements MigrationInterface {
  name = 'PeerReading1765700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE peer_reading (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        opened_at timestamptz NOT NULL DEFAULT now(),
        done_at timestamptz,
        PRIMARY KEY (school_id, copy_id, person_id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      ALTER TABLE comment ADD COLUMN reader_number smallint;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
