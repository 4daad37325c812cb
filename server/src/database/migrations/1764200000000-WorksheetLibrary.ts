import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Media, folders, sharing, pins, files brought in, and files that students hand in. */
export class WorksheetLibrary1764200000000 implements MigrationInterface {
  name = 'WorksheetLibrary1764200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE folder (
        school_id uuid NOT NULL REFERENCES school,
        id uuid NOT NULL,
        owner_id uuid NOT NULL,
        parent_id uuid,
        name text NOT NULL CHECK (length(name) BETWEEN 1 AND 100),
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, owner_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, parent_id) REFERENCES folder (school_id, id)
      );
      CREATE INDEX folder_by_owner ON folder (owner_id, school_id);

      ALTER TABLE worksheet
        ADD COLUMN folder_id uuid,
        ADD COLUMN archived_at timestamptz,
        -- What all teachers of the school may do with it.
        ADD COLUMN school_may text NOT NULL DEFAULT 'none' CHECK (school_may IN ('none', 'view', 'edit')),
        -- Title and print in the form in which they are looked for (core: findForm).
        ADD COLUMN find_words text NOT NULL DEFAULT '',
        ADD FOREIGN KEY (school_id, folder_id) REFERENCES folder (school_id, id);

      CREATE TABLE worksheet_share (
        school_id uuid NOT NULL,
        worksheet_id uuid NOT NULL,
        person_id uuid NOT NULL,
        may text NOT NULL CHECK (may IN ('view', 'edit')),
        PRIMARY KEY (school_id, worksheet_id, person_id),
        FOREIGN KEY (school_id, worksheet_id) REFERENCES worksheet (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX worksheet_share_by_person ON worksheet_share (person_id, school_id);

      -- What one person marks and last opened: others do not see it.
      CREATE TABLE worksheet_mark (
        school_id uuid NOT NULL,
        person_id uuid NOT NULL,
        worksheet_id uuid NOT NULL,
        pinned boolean NOT NULL DEFAULT false,
        opened_at timestamptz,
        PRIMARY KEY (school_id, person_id, worksheet_id),
        FOREIGN KEY (school_id, worksheet_id) REFERENCES worksheet (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );

      -- A file on its way to be a worksheet; kept until then, so that an interrupted bringing in can be taken up again.
      CREATE TABLE bring_in (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        name text NOT NULL,
        kind text NOT NULL,
        sha256 bytea NOT NULL,
        size integer NOT NULL,
        -- Null once it is a worksheet: then the worksheet has all of it.
        bytes bytea,
        created_at timestamptz NOT NULL DEFAULT now(),
        worksheet_id uuid,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, worksheet_id) REFERENCES worksheet (school_id, id)
      );
      CREATE INDEX bring_in_by_person ON bring_in (person_id, school_id);

      CREATE TABLE medium (
        school_id uuid NOT NULL REFERENCES school,
        id uuid NOT NULL,
        type text NOT NULL CHECK (type IN ('image/png', 'image/jpeg', 'image/webp')),
        width integer NOT NULL,
        height integer NOT NULL,
        bytes bytea NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        -- Of which file it came, until that is a worksheet.
        bring_in_id uuid,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, bring_in_id) REFERENCES bring_in (school_id, id)
      );
      -- Pictures are packed already.
      ALTER TABLE medium ALTER COLUMN bytes SET STORAGE EXTERNAL;
      ALTER TABLE bring_in ALTER COLUMN bytes SET STORAGE EXTERNAL;
      CREATE INDEX medium_by_bring_in ON medium (bring_in_id, school_id) WHERE bring_in_id IS NOT NULL;

      CREATE TABLE worksheet_medium (
        school_id uuid NOT NULL,
        worksheet_id uuid NOT NULL,
        medium_id uuid NOT NULL,
        PRIMARY KEY (school_id, worksheet_id, medium_id),
        FOREIGN KEY (school_id, worksheet_id) REFERENCES worksheet (school_id, id),
        FOREIGN KEY (school_id, medium_id) REFERENCES medium (school_id, id)
      );
      CREATE INDEX worksheet_medium_by_medium ON worksheet_medium (medium_id, school_id);

      -- Photographs and documents that students hand in.
      CREATE TABLE copy_file (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        copy_id uuid NOT NULL,
        space text NOT NULL,
        person_id uuid NOT NULL,
        name text NOT NULL,
        type text NOT NULL,
        bytes bytea NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      ALTER TABLE copy_file ALTER COLUMN bytes SET STORAGE EXTERNAL;
      CREATE INDEX copy_file_by_copy ON copy_file (copy_id, school_id);
    `)
    // Worksheets from before are found by their titles at once, and by their print when they are next kept.
    await runner.query(`UPDATE worksheet SET find_words = lower(title)`)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
