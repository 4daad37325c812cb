import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What keeps strangers from trying passwords and codes without shutting anybody out, and how many they may be. */
export class Strangers1764800000000 implements MigrationInterface {
  name = 'Strangers1764800000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      -- A browser in which somebody signed in, and the address it did so from last; only the hash of its mark is kept.
      CREATE TABLE known_device (
        school_id uuid NOT NULL,
        person_id uuid NOT NULL,
        mark_hash text NOT NULL,
        address text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, person_id, mark_hash),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      ALTER TABLE sign_in_failure ADD COLUMN mark_hash text;

      -- How many guests the teacher lets in by a link, and how many may wait to be let into a class.
      ALTER TABLE walk_in ADD COLUMN places integer NOT NULL DEFAULT 60 CHECK (places BETWEEN 1 AND 500);
      ALTER TABLE walk_in_use ADD COLUMN cleared_at timestamptz;
      -- Which message it was; the stand-in shows a mail to those only whom the message is the business of.
      ALTER TABLE stand_in_mail ADD COLUMN message_id uuid;
      ALTER TABLE class ADD COLUMN join_places integer NOT NULL DEFAULT 60 CHECK (join_places BETWEEN 1 AND 500);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
