import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Every row has a key, and what is counted in an edition is counted by the server alone. */
export class KeysForAll1765200000000 implements MigrationInterface {
  name = 'KeysForAll1765200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE former_writer ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY, ADD PRIMARY KEY (school_id, id);
      ALTER TABLE live_update_aside ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY, ADD PRIMARY KEY (school_id, id);
      ALTER TABLE sign_in_failure ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY;
      ALTER TABLE stranger_attempt ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY;

      -- The values stay; the functions knew the kinds of answer spaces a second time.
      ALTER TABLE edition
        ALTER COLUMN points DROP EXPRESSION, ALTER COLUMN points SET NOT NULL,
        ALTER COLUMN member_spaces DROP EXPRESSION, ALTER COLUMN member_spaces SET NOT NULL,
        ALTER COLUMN group_spaces DROP EXPRESSION, ALTER COLUMN group_spaces SET NOT NULL,
        ALTER COLUMN reserved_parts DROP EXPRESSION;
      DROP FUNCTION edition_points, edition_spaces, edition_reserved;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
