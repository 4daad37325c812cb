import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Late writing becomes a document of its own: a log a person and answer space, each update resting on those before it. What
 * was kept so far goes into it, in the order it came.
 */
export class LateDocuments1764600000000 implements MigrationInterface {
  name = 'LateDocuments1764600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE late_update (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        space text NOT NULL,
        person_id uuid NOT NULL,
        -- Counts the late updates of this person in this space from 1.
        seq integer NOT NULL,
        at timestamptz NOT NULL,
        -- Why the copy stood still for this person.
        reason text NOT NULL,
        bytes bytea NOT NULL,
        PRIMARY KEY (school_id, copy_id, space, person_id, seq),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
      INSERT INTO late_update (school_id, copy_id, space, person_id, seq, at, reason, bytes)
      SELECT school_id, copy_id, space, person_id,
             row_number() OVER (PARTITION BY school_id, copy_id, space, person_id ORDER BY at, id), at, reason, bytes
        FROM late_writing;
      DROP TABLE late_writing;

      -- Updates that were taken out of an answer because it could not be opened with them; kept.
      CREATE TABLE live_update_aside (LIKE live_update INCLUDING DEFAULTS);
      ALTER TABLE live_update_aside
        ADD COLUMN aside_at timestamptz NOT NULL DEFAULT now(),
        ADD COLUMN aside_by uuid NOT NULL;
      CREATE INDEX live_update_aside_by_copy ON live_update_aside (copy_id, school_id);

      -- The answer space because of which a copy cannot be opened in time; null: it can.
      ALTER TABLE copy ADD COLUMN unreadable_space text;

      -- Who could write in a copy and cannot any more: what they wrote before they knew is kept beside the answers.
      CREATE TABLE former_writer (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        -- Null: all students of the class.
        person_id uuid,
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
      CREATE UNIQUE INDEX former_writer_once ON former_writer (copy_id, person_id, school_id) NULLS NOT DISTINCT;
      CREATE FUNCTION note_former_writer() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          INSERT INTO former_writer (school_id, copy_id, person_id) VALUES (OLD.school_id, OLD.copy_id, OLD.person_id)
          ON CONFLICT DO NOTHING;
          RETURN NULL;
        END $$;
      CREATE FUNCTION note_former_writers() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          INSERT INTO former_writer (school_id, copy_id) VALUES (OLD.school_id, OLD.id) ON CONFLICT DO NOTHING;
          RETURN NULL;
        END $$;
      CREATE TRIGGER holder_left AFTER DELETE ON copy_holder FOR EACH ROW
        WHEN (OLD.permission = 'edit') EXECUTE FUNCTION note_former_writer();
      CREATE TRIGGER holder_stopped AFTER UPDATE ON copy_holder FOR EACH ROW
        WHEN (OLD.permission = 'edit' AND NEW.permission <> 'edit') EXECUTE FUNCTION note_former_writer();
      CREATE TRIGGER reader_left AFTER DELETE ON copy_reader FOR EACH ROW
        WHEN (OLD.permission = 'edit') EXECUTE FUNCTION note_former_writer();
      CREATE TRIGGER reader_stopped AFTER UPDATE ON copy_reader FOR EACH ROW
        WHEN (OLD.permission = 'edit' AND NEW.permission <> 'edit') EXECUTE FUNCTION note_former_writer();
      CREATE TRIGGER classmates_stopped AFTER UPDATE OF classmates_may ON copy FOR EACH ROW
        WHEN (OLD.classmates_may = 'edit' AND NEW.classmates_may <> 'edit') EXECUTE FUNCTION note_former_writers();
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
