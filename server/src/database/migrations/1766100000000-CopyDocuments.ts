import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Documents with a whole copy: the answer of who works in one of their own, and what is taken out again. */
export class CopyDocuments1766100000000 implements MigrationInterface {
  name = 'CopyDocuments1766100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE copy_file ADD COLUMN is_answer boolean NOT NULL DEFAULT false, ADD COLUMN removed_at timestamptz;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
