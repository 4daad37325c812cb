import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Answers that are accepted in a handout beside those of its worksheet. */
export class AcceptedAnswers1767000000000 implements MigrationInterface {
  name = 'AcceptedAnswers1767000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE accepted_answer (
        school_id uuid NOT NULL,
        handout_id uuid NOT NULL,
        worksheet_id uuid NOT NULL,
        space text NOT NULL,
        texts jsonb NOT NULL,
        PRIMARY KEY (school_id, handout_id, worksheet_id, space),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, worksheet_id) REFERENCES worksheet (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
