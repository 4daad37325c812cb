import type { MigrationInterface, QueryRunner } from 'typeorm'

/** That two groups of names that look alike are two is said once. */
export class DifferentGroups1765100000000 implements MigrationInterface {
  name = 'DifferentGroups1765100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      -- Pairs of ids of groups, the smaller id first: [["…", "…"]].
      ALTER TABLE group_set ADD COLUMN different jsonb NOT NULL DEFAULT '[]';
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
