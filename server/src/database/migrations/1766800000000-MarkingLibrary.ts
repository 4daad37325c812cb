import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Rubrics that teachers keep, and the scales of schools and classes. */
export class MarkingLibrary1766800000000 implements MigrationInterface {
  name = 'MarkingLibrary1766800000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE kept_rubric (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        name text NOT NULL,
        rows jsonb NOT NULL,
        shared boolean NOT NULL DEFAULT false,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX kept_rubric_by_person ON kept_rubric (person_id, school_id);
      CREATE INDEX kept_rubric_shared ON kept_rubric (school_id) WHERE shared;
      CREATE TABLE kept_scale (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        class_id uuid,
        name text NOT NULL,
        steps jsonb NOT NULL,
        thresholds jsonb,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE INDEX kept_scale_by_class ON kept_scale (class_id, school_id);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
