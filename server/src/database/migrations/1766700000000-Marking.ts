import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Marks, what was handed back, remarks, stock remarks, and how mark books reckon. */
export class Marking1766700000000 implements MigrationInterface {
  name = 'Marking1766700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE mark (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        parts jsonb NOT NULL,
        version integer NOT NULL DEFAULT 0,
        counted_by text NOT NULL,
        total integer,
        most integer,
        step text,
        excused boolean NOT NULL DEFAULT false,
        done_at timestamptz,
        changed_at timestamptz NOT NULL,
        changed_by uuid NOT NULL,
        PRIMARY KEY (school_id, copy_id, person_id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, changed_by) REFERENCES person (school_id, id)
      );
      CREATE TABLE handed_back (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL,
        handed_by uuid NOT NULL,
        mark jsonb NOT NULL,
        message text NOT NULL,
        looked_at timestamptz,
        withdrawn_at timestamptz,
        PRIMARY KEY (school_id, copy_id, person_id, at),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, handed_by) REFERENCES person (school_id, id)
      );
      CREATE INDEX handed_back_by_person ON handed_back (person_id, school_id);
      CREATE TABLE hand_back_later (
        school_id uuid NOT NULL,
        handout_id uuid NOT NULL,
        at timestamptz NOT NULL,
        person_id uuid NOT NULL,
        copy_ids jsonb NOT NULL,
        message text NOT NULL,
        by_mail boolean NOT NULL,
        PRIMARY KEY (school_id, handout_id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX hand_back_later_by_time ON hand_back_later (at);
      CREATE TABLE stock_remark (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        short text NOT NULL,
        text text NOT NULL,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE UNIQUE INDEX stock_remark_by_person ON stock_remark (person_id, short, school_id);
      CREATE TABLE mark_book (
        school_id uuid NOT NULL,
        class_id uuid NOT NULL,
        rules jsonb NOT NULL,
        PRIMARY KEY (school_id, class_id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE TABLE paper_column (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        class_id uuid NOT NULL,
        name text NOT NULL,
        unit text,
        most integer NOT NULL,
        made_at timestamptz NOT NULL,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE INDEX paper_column_by_class ON paper_column (class_id, school_id);
      CREATE TABLE paper_mark (
        school_id uuid NOT NULL,
        column_id uuid NOT NULL,
        person_id uuid NOT NULL,
        total integer,
        excused boolean NOT NULL DEFAULT false,
        changed_at timestamptz NOT NULL,
        changed_by uuid NOT NULL,
        PRIMARY KEY (school_id, column_id, person_id),
        FOREIGN KEY (school_id, column_id) REFERENCES paper_column (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, changed_by) REFERENCES person (school_id, id)
      );
      ALTER TABLE comment_thread ADD COLUMN released_at timestamptz,
        DROP CONSTRAINT comment_thread_kind_check,
        ADD CONSTRAINT comment_thread_kind_check CHECK (kind IN ('comment', 'question', 'remark'));
      CREATE INDEX comment_thread_unreleased ON comment_thread (copy_id, school_id) WHERE kind = 'remark' AND released_at IS NULL;
      ALTER TABLE reminder DROP CONSTRAINT reminder_of_check,
        ADD CONSTRAINT reminder_of_check CHECK (reminded_of IN ('not begun', 'not submitted', 'overdue', 'question answered', 'message', 'handed back'));
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
