import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Reminders of what is missing in copies. */
export class Reminders1766300000000 implements MigrationInterface {
  name = 'Reminders1766300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE message DROP CONSTRAINT message_kind_check,
        ADD CONSTRAINT message_kind_check CHECK (kind IN ('invitation', 'new password', 'cover note', 'reminder'));
      CREATE TABLE reminder (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL,
        reminded_of text NOT NULL CONSTRAINT reminder_of_check CHECK (reminded_of IN ('not begun', 'not submitted', 'overdue')),
        message_id uuid NOT NULL,
        subject text NOT NULL,
        text text NOT NULL,
        PRIMARY KEY (school_id, copy_id, person_id, at),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, message_id) REFERENCES message (school_id, id)
      );
      CREATE INDEX reminder_by_person ON reminder (person_id, at, school_id);
      CREATE INDEX reminder_by_message ON reminder (message_id, school_id);
      CREATE INDEX copy_by_due ON copy (due_at) WHERE NOT set_aside;
      CREATE TABLE reminded_before_due (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        due_at timestamptz NOT NULL,
        PRIMARY KEY (school_id, copy_id, due_at),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
