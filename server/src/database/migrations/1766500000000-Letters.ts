import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Teachers write to students about copies of theirs, not only of what is missing. */
export class Letters1766500000000 implements MigrationInterface {
  name = 'Letters1766500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE reminder DROP CONSTRAINT reminder_of_check,
        ADD CONSTRAINT reminder_of_check CHECK (reminded_of IN ('not begun', 'not submitted', 'overdue', 'question answered', 'message'));
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
