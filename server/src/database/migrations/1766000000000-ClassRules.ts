import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What a class says of the copies in it. */
export class ClassRules1766000000000 implements MigrationInterface {
  name = 'ClassRules1766000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE class ADD COLUMN classmates_comment boolean NOT NULL DEFAULT true, ADD COLUMN staff_shown boolean NOT NULL DEFAULT true;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
