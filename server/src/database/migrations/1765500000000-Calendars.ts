import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Addresses under which calendars read due times. */
export class Calendars1765500000000 implements MigrationInterface {
  name = 'Calendars1765500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE calendar_address (
        school_id uuid NOT NULL,
        person_id uuid NOT NULL,
        token text NOT NULL UNIQUE,
        made_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, person_id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
