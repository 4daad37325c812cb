import type { MigrationInterface, QueryRunner } from 'typeorm'
import { newClassCode } from '../../common/classCode.js'

/** Rosters that last: student numbers, extra columns, units, archive, staff who help some, groups, joining, accounts by mail. */
export class RosterForYears1764100000000 implements MigrationInterface {
  name = 'RosterForYears1764100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE person
        ADD number text,
        -- The form under which two spellings are one student number (core: numberKey).
        ADD number_key text,
        -- What a student without an e-mail signs in with: the class code and a number, from a printed card.
        ADD card_name text UNIQUE,
        -- This row was the same person twice: everything of it went to the other one.
        ADD merged_into uuid,
        ADD UNIQUE (number_key, school_id),
        ADD CHECK ((number IS NULL) = (number_key IS NULL)),
        ADD CHECK (merged_into IS NULL OR (email IS NULL AND number IS NULL AND card_name IS NULL AND password_hash IS NULL));

      ALTER TABLE class
        ADD archived_at timestamptz,
        -- The class of the year before that it was carried from.
        ADD carried_from uuid,
        -- Short, for the board and for cards; told to students, so it opens nothing by itself.
        ADD code text UNIQUE,
        ADD join_open boolean NOT NULL DEFAULT false,
        ADD join_opens_at timestamptz,
        ADD join_closes_at timestamptz,
        ADD last_card_number integer NOT NULL DEFAULT 0;

      ALTER TABLE class_member
        -- Roster column id to text.
        ADD cells jsonb NOT NULL DEFAULT '{}',
        DROP CONSTRAINT class_member_role_check,
        ADD CONSTRAINT class_member_role_check CHECK (role IN ('lead', 'co-teacher', 'helper', 'named helper', 'student'));

      CREATE TABLE roster_column (
        school_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        class_id uuid NOT NULL,
        name text NOT NULL,
        kind text NOT NULL CHECK (kind IN ('text', 'tags')),
        position integer NOT NULL,
        -- Taken away; what stood in it is kept, and comes back with it.
        removed_at timestamptz,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE INDEX roster_column_by_class ON roster_column (class_id, school_id);

      CREATE TABLE unit (
        school_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        class_id uuid NOT NULL,
        name text NOT NULL,
        position integer NOT NULL,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE INDEX unit_by_class ON unit (class_id, school_id);

      -- Whom a named helper helps.
      CREATE TABLE helped_student (
        school_id uuid NOT NULL,
        class_id uuid NOT NULL,
        helper_id uuid NOT NULL,
        student_id uuid NOT NULL,
        PRIMARY KEY (school_id, class_id, helper_id, student_id),
        FOREIGN KEY (school_id, class_id, helper_id) REFERENCES class_member (school_id, class_id, person_id),
        FOREIGN KEY (school_id, class_id, student_id) REFERENCES class_member (school_id, class_id, person_id)
      );

      CREATE TABLE group_set (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        class_id uuid NOT NULL,
        name text NOT NULL,
        position integer NOT NULL,
        balance_column uuid,
        sign_up_open boolean NOT NULL DEFAULT false,
        sign_up_opens_at timestamptz,
        sign_up_closes_at timestamptz,
        version integer NOT NULL DEFAULT 1,
        removed_at timestamptz,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE INDEX group_set_by_class ON group_set (class_id, school_id);

      CREATE TABLE class_group (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        set_id uuid NOT NULL,
        name text NOT NULL,
        position integer NOT NULL,
        -- The most that may sign up; null: no limit.
        places integer CHECK (places BETWEEN 1 AND 500),
        PRIMARY KEY (school_id, id),
        UNIQUE (id, set_id, school_id),
        FOREIGN KEY (school_id, set_id) REFERENCES group_set (school_id, id)
      );
      CREATE INDEX class_group_by_set ON class_group (set_id, school_id);

      CREATE TABLE group_member (
        school_id uuid NOT NULL,
        set_id uuid NOT NULL,
        person_id uuid NOT NULL,
        group_id uuid NOT NULL,
        -- Stays where it is when groups are made again.
        locked boolean NOT NULL DEFAULT false,
        at timestamptz NOT NULL DEFAULT now(),
        -- Nobody is in two groups of one set.
        PRIMARY KEY (school_id, set_id, person_id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (group_id, set_id, school_id) REFERENCES class_group (id, set_id, school_id) ON DELETE CASCADE
      );
      CREATE INDEX group_member_by_group ON group_member (group_id, school_id);
      CREATE INDEX group_member_by_person ON group_member (person_id, school_id);

      CREATE TABLE group_pair (
        school_id uuid NOT NULL,
        set_id uuid NOT NULL,
        person_a uuid NOT NULL,
        person_b uuid NOT NULL,
        kind text NOT NULL CHECK (kind IN ('together', 'apart')),
        PRIMARY KEY (school_id, set_id, person_a, person_b),
        CHECK (person_a < person_b),
        FOREIGN KEY (school_id, set_id) REFERENCES group_set (school_id, id)
      );

      -- Somebody who asked to be let into a class by its join page.
      CREATE TABLE join_request (
        school_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        class_id uuid NOT NULL,
        first_name text NOT NULL,
        last_name text NOT NULL,
        email text,
        email_key text,
        at timestamptz NOT NULL DEFAULT now(),
        state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'let in', 'turned away')),
        decided_at timestamptz,
        decided_by uuid,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, class_id) REFERENCES class (school_id, id)
      );
      CREATE INDEX join_request_by_class ON join_request (class_id, school_id) WHERE state = 'waiting';

      -- A link with which somebody sets a password. Only the hash of its token is kept.
      CREATE TABLE account_link (
        school_id uuid NOT NULL,
        token_hash text NOT NULL,
        person_id uuid NOT NULL,
        purpose text NOT NULL CHECK (purpose IN ('invitation', 'new password')),
        created_at timestamptz NOT NULL DEFAULT now(),
        expires_at timestamptz NOT NULL,
        PRIMARY KEY (school_id, token_hash),
        UNIQUE (token_hash),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX account_link_by_person ON account_link (person_id, school_id);

      -- The mailroom: what was to be sent, and how it went. What a message says is made when it goes out, so that no link
      -- that sets a password lies here.
      CREATE TABLE message (
        school_id uuid NOT NULL,
        id uuid NOT NULL DEFAULT gen_random_uuid(),
        kind text NOT NULL CHECK (kind IN ('invitation', 'new password')),
        person_id uuid NOT NULL,
        address text NOT NULL,
        -- The class it belongs to; null: between a person and the school.
        class_id uuid,
        created_by uuid,
        created_at timestamptz NOT NULL DEFAULT now(),
        state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'sent', 'failed')),
        attempts integer NOT NULL DEFAULT 0,
        sent_at timestamptz,
        problem text,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX message_by_class ON message (class_id, created_at, school_id);
      CREATE INDEX message_by_person ON message (person_id, school_id);

      -- What the stand-in for a mail server took in. Only used where no mail server is set.
      CREATE TABLE stand_in_mail (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        at timestamptz NOT NULL DEFAULT now(),
        recipient text NOT NULL,
        subject text NOT NULL,
        body text NOT NULL
      );

      -- What strangers may do only so often: ask for a new password, ask to join, look a code up.
      CREATE TABLE stranger_attempt (
        kind text NOT NULL,
        key text NOT NULL,
        at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX stranger_attempt_by_key ON stranger_attempt (kind, key, at);
    `)
    const classes = (await runner.query('SELECT school_id, id FROM class WHERE code IS NULL')) as {
      school_id: string
      id: string
    }[]
    for (const { school_id, id } of classes)
      await runner.query('UPDATE class SET code = $3 WHERE school_id = $1 AND id = $2', [school_id, id, newClassCode()])
    await runner.query('ALTER TABLE class ALTER code SET NOT NULL')
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
