import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Second readings of marked copies, with the mark as it was then. */
export class SecondReadings1767300000000 implements MigrationInterface {
  name = 'SecondReadings1767300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE second_reading (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        total integer,
        step text,
        remark text NOT NULL DEFAULT '',
        at timestamptz NOT NULL,
        first_total integer,
        first_step text,
        first_by uuid NOT NULL,
        PRIMARY KEY (school_id, copy_id, person_id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, first_by) REFERENCES person (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
