import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Which student of the class a guest of a walk-in link is. */
export class GuestsMatched1765600000000 implements MigrationInterface {
  name = 'GuestsMatched1765600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE guest_match (
        school_id uuid NOT NULL,
        handout_id uuid NOT NULL,
        item_id text NOT NULL,
        guest_id uuid NOT NULL,
        student_id uuid NOT NULL,
        beside boolean NOT NULL,
        matched_by uuid NOT NULL,
        matched_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, handout_id, item_id, guest_id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, guest_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, student_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX guest_match_by_student ON guest_match (student_id, school_id);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
