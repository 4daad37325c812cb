import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Classes whose helpers give marks too. */
export class HelpersMark1766900000000 implements MigrationInterface {
  name = 'HelpersMark1766900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE class ADD COLUMN helpers_mark boolean NOT NULL DEFAULT false')
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
