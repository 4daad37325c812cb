import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Who is named in comments. */
export class Mentions1765900000000 implements MigrationInterface {
  name = 'Mentions1765900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE comment_mention (
        school_id uuid NOT NULL,
        comment_id uuid NOT NULL,
        person_id uuid NOT NULL,
        PRIMARY KEY (school_id, comment_id, person_id),
        FOREIGN KEY (school_id, comment_id) REFERENCES comment (school_id, id) ON DELETE CASCADE,
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX comment_mention_by_person ON comment_mention (person_id, school_id);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
