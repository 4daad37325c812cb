import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Copies that become their holders' own. */
export class GivenToKeep1767200000000 implements MigrationInterface {
  name = 'GivenToKeep1767200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE handout DROP CONSTRAINT handout_kind_check;
      ALTER TABLE handout ADD CONSTRAINT handout_kind_check CHECK (kind IN ('handout', 'shelf', 'kept'));
      CREATE UNIQUE INDEX one_kept_of_school ON handout (school_id) WHERE kind = 'kept';
      CREATE TABLE given_to_keep (
        school_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL,
        given_by uuid NOT NULL,
        act_id uuid NOT NULL,
        answers jsonb NOT NULL,
        edition integer NOT NULL,
        holders jsonb NOT NULL,
        places jsonb NOT NULL,
        matches jsonb NOT NULL,
        hides_others boolean NOT NULL DEFAULT false,
        own_copy_id uuid,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, given_by) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, own_copy_id) REFERENCES copy (school_id, id)
      );
      CREATE INDEX given_to_keep_by_copy ON given_to_keep (copy_id, school_id);
      CREATE INDEX given_to_keep_by_person ON given_to_keep (person_id, school_id);
      CREATE UNIQUE INDEX given_to_keep_by_own ON given_to_keep (own_copy_id, school_id) WHERE own_copy_id IS NOT NULL;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
