import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Every way of giving: copies for groups and classes, readers, times of their own, what was handed out last, notices, links
 * for walking in, recipes and the shelf.
 */
export class HandoutsMendable1764300000000 implements MigrationInterface {
  name = 'HandoutsMendable1764300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      -- What the answer spaces of an edition add up to, and how many of them are repeated for members or groups.
      -- Strict, because lax paths find what is in lists twice.
      CREATE FUNCTION edition_points(content jsonb) RETURNS numeric LANGUAGE sql IMMUTABLE AS $$
        SELECT coalesce(sum((found #>> '{}')::numeric), 0) FROM jsonb_path_query(content, 'strict $.**.points') AS found WHERE jsonb_typeof(found) = 'number' $$;
      CREATE FUNCTION edition_spaces(content jsonb, whose text) RETURNS integer LANGUAGE sql IMMUTABLE AS $$
        SELECT count(*)::int FROM jsonb_array_elements(content -> 'blocks') AS block, jsonb_path_query(block,
          'strict $.** ? (@.kind == "line" || @.kind == "passage" || @.kind == "choice" || @.kind == "number" || @.kind == "gap" || @.kind == "cell" || @.kind == "drawing" || @.kind == "file")')
         WHERE block #>> '{whose,is}' = whose $$;
      ALTER TABLE edition
        ADD COLUMN points numeric GENERATED ALWAYS AS (edition_points(content)) STORED,
        ADD COLUMN member_spaces integer GENERATED ALWAYS AS (edition_spaces(content, 'each member')) STORED,
        ADD COLUMN group_spaces integer GENERATED ALWAYS AS (edition_spaces(content, 'each group')) STORED,
        ALTER COLUMN kept_by DROP NOT NULL;

      ALTER TABLE worksheet
        -- Belongs to the school and not to the library: what is given where no worksheet is.
        ADD COLUMN built_in text CHECK (built_in IN ('blank page', 'own file', 'link')),
        ALTER COLUMN owner_id DROP NOT NULL,
        ADD CHECK ((built_in IS NULL) <> (owner_id IS NULL)),
        ADD UNIQUE (built_in, school_id);

      ALTER TABLE person
        DROP CONSTRAINT person_role_check,
        ADD CONSTRAINT person_role_check CHECK (role IN ('office', 'teacher', 'student', 'guest'));

      ALTER TABLE handout
        -- Handed out together with others to several classes: they share one statement and version.
        ADD COLUMN set_id uuid,
        ADD COLUMN kind text NOT NULL DEFAULT 'handout' CHECK (kind IN ('handout', 'shelf')),
        -- The statement as it was last handed out; null: nothing is.
        ADD COLUMN given jsonb,
        ADD COLUMN opens_at timestamptz;
      CREATE INDEX handout_by_set ON handout (set_id, school_id) WHERE set_id IS NOT NULL;
      CREATE UNIQUE INDEX one_shelf_of_class ON handout (class_id, school_id) WHERE kind = 'shelf';

      ALTER TABLE hand_out_run
        ADD COLUMN kind text NOT NULL DEFAULT 'hand out' CHECK (kind IN ('hand out', 'by itself', 'undo')),
        -- What was handed out before it; undoing goes back to it.
        ADD COLUMN before jsonb,
        -- Only these slots; null: all.
        ADD COLUMN only_slots text[];
      CREATE INDEX hand_out_run_by_handout ON hand_out_run (handout_id, started_at, school_id);

      CREATE TABLE hand_out_failure (
        school_id uuid NOT NULL,
        run_id uuid NOT NULL,
        slot_key text NOT NULL,
        reason text NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, run_id, slot_key),
        FOREIGN KEY (school_id, run_id) REFERENCES hand_out_run (school_id, id)
      );

      -- Statements speak of the classes they are for, each with its own times.
      UPDATE handout SET statement = (statement - 'dueAt') || jsonb_build_object('classes',
        jsonb_build_array(jsonb_build_object('classId', class_id, 'opensAt', NULL, 'dueAt', statement -> 'dueAt')));
      UPDATE hand_out_run r SET statement = (r.statement - 'dueAt') || jsonb_build_object('classes',
        jsonb_build_array(jsonb_build_object('classId', h.class_id, 'opensAt', NULL, 'dueAt', r.statement -> 'dueAt')))
        FROM handout h WHERE h.school_id = r.school_id AND h.id = r.handout_id;
      UPDATE handout h SET given = (SELECT r.statement FROM hand_out_run r WHERE r.school_id = h.school_id AND r.handout_id = h.id ORDER BY r.started_at DESC LIMIT 1)
       WHERE handed_out_at IS NOT NULL;

      ALTER TABLE copy
        ADD COLUMN way text NOT NULL DEFAULT 'one each' CHECK (way IN ('one each', 'one per group', 'one together', 'to read')),
        ADD COLUMN link text,
        ADD COLUMN may_invite boolean NOT NULL DEFAULT false,
        -- The groups that have a place of their own in it: id, name, personIds.
        ADD COLUMN places jsonb NOT NULL DEFAULT '[]',
        ADD COLUMN opens_at timestamptz,
        ADD COLUMN pens_down_at_due boolean NOT NULL DEFAULT false,
        ADD COLUMN late_work boolean NOT NULL DEFAULT true,
        -- The edition for which its answers were counted last.
        ADD COLUMN counted_edition integer;
      UPDATE copy SET counted_edition = edition;

      -- Classmates who see a copy that is not theirs: chosen by the statement, or let in by its holder.
      CREATE TABLE copy_reader (
        school_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        person_id uuid NOT NULL,
        permission text NOT NULL CHECK (permission IN ('view', 'comment', 'edit')),
        -- Null: chosen by the statement.
        invited_by uuid,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, copy_id, person_id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX copy_reader_by_person ON copy_reader (person_id, school_id);

      -- A cover note as one person was sent it. The key sends each once, whatever is clicked, restarted or repeated.
      CREATE TABLE notice (
        school_id uuid NOT NULL,
        handout_id uuid NOT NULL,
        notice_key text NOT NULL,
        person_id uuid NOT NULL,
        about_id uuid NOT NULL,
        -- With the names filled in.
        note jsonb NOT NULL,
        opens_at timestamptz,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, handout_id, notice_key),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX notice_by_person ON notice (person_id, school_id);

      ALTER TABLE message
        ADD COLUMN handout_id uuid,
        ADD COLUMN notice_key text,
        DROP CONSTRAINT message_kind_check,
        ADD CONSTRAINT message_kind_check CHECK (kind IN ('invitation', 'new password', 'cover note')),
        ADD FOREIGN KEY (school_id, handout_id, notice_key) REFERENCES notice (school_id, handout_id, notice_key),
        ADD UNIQUE (handout_id, notice_key, school_id);

      CREATE TABLE recipe (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        name text NOT NULL,
        statement jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX recipe_by_person ON recipe (person_id, school_id);

      -- A link by which people without an account come to one item of a handout.
      CREATE TABLE walk_in (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        handout_id uuid NOT NULL,
        item_id text NOT NULL,
        code text NOT NULL UNIQUE,
        permission text NOT NULL CHECK (permission IN ('view', 'comment', 'edit')),
        is_open boolean NOT NULL DEFAULT true,
        ends_at timestamptz,
        created_by uuid NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, id),
        UNIQUE (handout_id, item_id, school_id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id)
      );

      -- Each coming in by it.
      CREATE TABLE walk_in_use (
        school_id uuid NOT NULL,
        walk_in_id uuid NOT NULL,
        number bigint GENERATED ALWAYS AS IDENTITY,
        person_id uuid NOT NULL,
        name text NOT NULL,
        -- What they typed is the name of somebody of the roster too.
        like_id uuid,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, walk_in_id, number),
        FOREIGN KEY (school_id, walk_in_id) REFERENCES walk_in (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX walk_in_use_by_person ON walk_in_use (person_id, school_id);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
