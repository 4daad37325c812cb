import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Pens that go down at a moment, what was done with pens, extra time; the sittings of copies, and when staff looked at them. */
export class Board1766200000000 implements MigrationInterface {
  name = 'Board1766200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE copy ADD COLUMN pens_down_from timestamptz, ADD COLUMN written_at timestamptz, ADD COLUMN sittings integer NOT NULL DEFAULT 0;
      CREATE INDEX copy_pens_to_go_down ON copy (pens_down_from) WHERE pens_down_from IS NOT NULL;
      UPDATE copy c SET written_at = s.last, sittings = s.count
        FROM (SELECT school_id, copy_id, max(at) AS last, count(*) FILTER (WHERE gap IS NULL OR gap > interval '10 minutes') AS count
                FROM (SELECT school_id, copy_id, at, at - lag(at) OVER (PARTITION BY school_id, copy_id ORDER BY at) AS gap FROM live_update) AS gaps
               GROUP BY school_id, copy_id) AS s
       WHERE c.school_id = s.school_id AND c.id = s.copy_id;
      CREATE INDEX comment_by_person ON comment (person_id, school_id);
      ALTER TABLE class ADD COLUMN extra_time jsonb NOT NULL DEFAULT '[]';
      CREATE TABLE pens_act (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        handout_id uuid NOT NULL,
        person_id uuid NOT NULL,
        at timestamptz NOT NULL,
        act text NOT NULL CHECK (act IN ('down', 'down later', 'up')),
        minutes integer,
        changes jsonb NOT NULL,
        undone_at timestamptz,
        undone_by uuid,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, handout_id) REFERENCES handout (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, undone_by) REFERENCES person (school_id, id)
      );
      CREATE TABLE copy_look (
        school_id uuid NOT NULL,
        person_id uuid NOT NULL,
        copy_id uuid NOT NULL,
        at timestamptz NOT NULL,
        PRIMARY KEY (school_id, person_id, copy_id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
      CREATE INDEX pens_act_by_handout ON pens_act (handout_id, at, school_id);
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
