import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What somebody of the staff notes of a student, for themselves. */
export class StudentNotes1767100000000 implements MigrationInterface {
  name = 'StudentNotes1767100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE student_note (
        school_id uuid NOT NULL,
        class_id uuid NOT NULL,
        student_id uuid NOT NULL,
        person_id uuid NOT NULL,
        text text NOT NULL,
        PRIMARY KEY (school_id, class_id, student_id, person_id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id),
        FOREIGN KEY (school_id, student_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
