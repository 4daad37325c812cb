import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Every table leads its primary key with the school, so that the data can be distributed by school later on. All other
 * indexes end with it: the school tells rows apart badly, and an index that began with it would be taken for a look-up by
 * primary key whenever the planner's statistics are old, reading the whole school each time.
 */
export class FirstLight1764000000000 implements MigrationInterface {
  name = 'FirstLight1764000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE school (
        id uuid PRIMARY KEY,
        name text NOT NULL,
        time_zone text NOT NULL,
        locale text NOT NULL
      );

      CREATE TABLE person (
        school_id uuid NOT NULL REFERENCES school,
        id uuid NOT NULL,
        role text NOT NULL CHECK (role IN ('office', 'teacher', 'student')),
        first_name text NOT NULL CHECK (length(first_name) <= 300),
        last_name text NOT NULL CHECK (length(last_name) <= 300),
        email text,
        -- The form under which two spellings are one person's (core: emailKey).
        email_key text,
        password_hash text,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        UNIQUE (email_key, school_id),
        CHECK (first_name <> '' OR last_name <> ''),
        CHECK ((email IS NULL) = (email_key IS NULL))
      );

      -- Kept by express-session; the school is read out of it so that sessions too belong to one.
      CREATE TABLE session (
        sid varchar NOT NULL COLLATE "default" PRIMARY KEY,
        sess json NOT NULL,
        expire timestamp(6) NOT NULL,
        school_id uuid GENERATED ALWAYS AS ((sess ->> 'schoolId')::uuid) STORED,
        person_id uuid GENERATED ALWAYS AS ((sess ->> 'personId')::uuid) STORED
      );
      CREATE INDEX session_by_expiry ON session (expire);
      CREATE INDEX session_by_person ON session (person_id, school_id);

      -- Before anybody is known there is no school: attempts are counted by account and by address.
      CREATE TABLE sign_in_failure (
        email_key text NOT NULL,
        address text NOT NULL,
        at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX sign_in_failure_by_email ON sign_in_failure (email_key, at);
      CREATE INDEX sign_in_failure_by_address ON sign_in_failure (address, at);

      CREATE TABLE class (
        school_id uuid NOT NULL REFERENCES school,
        id uuid NOT NULL,
        name text NOT NULL,
        subject text NOT NULL,
        year text NOT NULL,
        ink text NOT NULL,
        last_handout_number integer NOT NULL DEFAULT 0,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id)
      );

      CREATE TABLE class_member (
        school_id uuid NOT NULL,
        class_id uuid NOT NULL,
        person_id uuid NOT NULL,
        role text NOT NULL CHECK (role IN ('lead', 'co-teacher', 'helper', 'student')),
        joined_at timestamptz NOT NULL DEFAULT now(),
        left_at timestamptz,
        PRIMARY KEY (school_id, class_id, person_id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX class_member_by_person ON class_member (person_id, school_id);

      CREATE TABLE worksheet (
        school_id uuid NOT NULL REFERENCES school,
        id uuid NOT NULL,
        owner_id uuid NOT NULL,
        title text NOT NULL,
        draft jsonb NOT NULL,
        -- Counts changes of the draft, so that nobody overwrites what they have not seen.
        version integer NOT NULL DEFAULT 1,
        -- The version that the newest edition was kept from.
        kept_version integer,
        created_at timestamptz NOT NULL DEFAULT now(),
        updated_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, owner_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX worksheet_by_owner ON worksheet (owner_id, school_id);

      CREATE TABLE edition (
        school_id uuid NOT NULL,
        worksheet_id uuid NOT NULL,
        number integer NOT NULL CHECK (number > 0),
        title text NOT NULL,
        content jsonb NOT NULL,
        answer_spaces integer NOT NULL,
        kept_at timestamptz NOT NULL DEFAULT now(),
        kept_by uuid NOT NULL,
        PRIMARY KEY (school_id, worksheet_id, number),
        FOREIGN KEY (school_id, worksheet_id) REFERENCES worksheet (school_id, id)
      );
      CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN RAISE EXCEPTION 'rows of % never change', TG_TABLE_NAME; END $$;
      CREATE TRIGGER editions_never_change BEFORE UPDATE OR DELETE ON edition FOR EACH ROW EXECUTE FUNCTION refuse_change();

      CREATE TABLE handout (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        class_id uuid NOT NULL,
        number integer NOT NULL,
        title text NOT NULL,
        statement jsonb NOT NULL,
        version integer NOT NULL DEFAULT 1,
        created_by uuid NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        updated_at timestamptz NOT NULL DEFAULT now(),
        -- When it was first handed out; null: a draft.
        handed_out_at timestamptz,
        due_at timestamptz,
        PRIMARY KEY (school_id, id),
        UNIQUE (class_id, number, school_id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );

      -- One pressing of "Hand out": what it set out to do and how far it is. Taken up again after a crash.
      CREATE TABLE hand_out_run (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        handout_id uuid NOT NULL,
        -- The statement as it was when handed out: later edits of the draft are not in it.
        statement jsonb NOT NULL,
        person_id uuid NOT NULL,
        total integer NOT NULL,
        done integer NOT NULL DEFAULT 0,
        started_at timestamptz NOT NULL DEFAULT now(),
        finished_at timestamptz,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id)
      );
      CREATE INDEX hand_out_run_unfinished ON hand_out_run (handout_id, school_id) WHERE finished_at IS NULL;

      CREATE TABLE copy (
        school_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        handout_id uuid NOT NULL,
        slot_key text NOT NULL,
        item_id text NOT NULL,
        title text NOT NULL,
        worksheet_id uuid NOT NULL,
        edition integer NOT NULL,
        classmates_may text NOT NULL CHECK (classmates_may IN ('none', 'view', 'comment', 'edit')),
        due_at timestamptz,
        -- Computed by the core from the journal; kept here for fast lists.
        state text NOT NULL DEFAULT 'not opened',
        pens_down boolean NOT NULL DEFAULT false,
        set_aside boolean NOT NULL DEFAULT false,
        submitted_at timestamptz,
        answered integer NOT NULL DEFAULT 0,
        words integer NOT NULL DEFAULT 0,
        progress jsonb NOT NULL DEFAULT '{}',
        last_activity_at timestamptz,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        -- Exactly once: whatever is clicked, restarted or repeated.
        UNIQUE (handout_id, slot_key, school_id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, worksheet_id, edition) REFERENCES edition (school_id, worksheet_id, number)
      ) WITH (fillfactor = 80);

      CREATE TABLE copy_holder (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        permission text NOT NULL CHECK (permission IN ('none', 'view', 'comment', 'edit')),
        PRIMARY KEY (school_id, copy_id, person_id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX copy_holder_by_person ON copy_holder (person_id, school_id);

      CREATE TABLE copy_journal (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        number bigint GENERATED ALWAYS AS IDENTITY,
        kind text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        person_id uuid,
        PRIMARY KEY (school_id, copy_id, number),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
      CREATE TRIGGER journal_never_changes BEFORE UPDATE OR DELETE ON copy_journal FOR EACH ROW EXECUTE FUNCTION refuse_change();

      -- What was written, update by update. The key fences a second owner of a document.
      CREATE TABLE live_update (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        space text NOT NULL,
        seq integer NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL,
        bytes bytea NOT NULL,
        PRIMARY KEY (school_id, copy_id, space, seq)
      );
      -- Finds what was written last before a stop; the log is in the order of time, so a few pages are enough.
      CREATE INDEX live_update_by_time ON live_update USING brin (at);

      CREATE TABLE live_snapshot (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        space text NOT NULL,
        -- The snapshot holds the updates up to and with this one.
        seq integer NOT NULL,
        bytes bytea NOT NULL,
        -- Client id to person: who may write under which id.
        writers jsonb NOT NULL,
        PRIMARY KEY (school_id, copy_id, space)
      );

      -- Written when the copy stood still already: kept, not applied.
      CREATE TABLE late_writing (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        space text NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        reason text NOT NULL,
        bytes bytea NOT NULL,
        PRIMARY KEY (school_id, copy_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
