import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Many copies saved as documents, for whoever asked for them. */
export class SavedCopies1766400000000 implements MigrationInterface {
  name = 'SavedCopies1766400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE saved_copies (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        format text NOT NULL CONSTRAINT saved_copies_format_check CHECK (format IN ('pdf', 'docx', 'odt', 'html')),
        title text NOT NULL,
        copies jsonb NOT NULL,
        failed jsonb NOT NULL DEFAULT '[]',
        done integer NOT NULL DEFAULT 0,
        size bigint NOT NULL DEFAULT 0,
        begun_at timestamptz NOT NULL,
        worked_at timestamptz NOT NULL,
        finished_at timestamptz,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX saved_copies_by_person ON saved_copies (person_id, begun_at, school_id);
      CREATE INDEX saved_copies_unfinished ON saved_copies (worked_at) WHERE finished_at IS NULL;
      CREATE TABLE saved_copies_file (
        school_id uuid NOT NULL,
        saved_id uuid NOT NULL,
        place integer NOT NULL,
        bytes bytea NOT NULL,
        PRIMARY KEY (school_id, saved_id, place),
        FOREIGN KEY (school_id, saved_id) REFERENCES saved_copies (school_id, id) ON DELETE CASCADE
      );
      ALTER TABLE saved_copies_file ALTER COLUMN bytes SET STORAGE EXTERNAL;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
