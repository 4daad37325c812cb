import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Comments and questions beside what is written in copies. */
export class Comments1765300000000 implements MigrationInterface {
  name = 'Comments1765300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      -- What was said of one thing: a comment, or a question to the staff, with what answers it.
      CREATE TABLE comment_thread (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        kind text NOT NULL CHECK (kind IN ('comment', 'question')),
        staff_only boolean NOT NULL DEFAULT false,
        anchor jsonb NOT NULL,
        waiting boolean NOT NULL DEFAULT false,
        version integer NOT NULL DEFAULT 0,
        done_at timestamptz,
        done_by uuid,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, done_by) REFERENCES person (school_id, id)
      );
      CREATE INDEX comment_thread_by_copy ON comment_thread (copy_id, school_id);
      -- Questions that wait are asked for by every board and desk, and are few.
      CREATE INDEX comment_thread_waiting ON comment_thread (copy_id, school_id) WHERE waiting;

      CREATE TABLE comment (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        copy_id uuid NOT NULL,
        thread_id uuid NOT NULL,
        person_id uuid NOT NULL,
        by_staff boolean NOT NULL,
        text text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        edited_at timestamptz,
        deleted_at timestamptz,
        deleted_by uuid,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, thread_id) REFERENCES comment_thread (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, deleted_by) REFERENCES person (school_id, id)
      );
      CREATE INDEX comment_by_thread ON comment (thread_id, school_id);
      CREATE INDEX comment_by_copy ON comment (copy_id, school_id);

      -- Up to when somebody has seen the comments of a copy.
      CREATE TABLE comment_seen (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL,
        PRIMARY KEY (school_id, copy_id, person_id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
