import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Programs of one's own: tokens, the feed of what happens, and addresses that are told of it. */
export class Automation1766600000000 implements MigrationInterface {
  name = 'Automation1766600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE access_token (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        name text NOT NULL,
        hash bytea NOT NULL,
        scopes jsonb NOT NULL,
        made_at timestamptz NOT NULL,
        ends_at timestamptz NOT NULL,
        used_at timestamptz,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE UNIQUE INDEX access_token_by_hash ON access_token (hash);
      CREATE INDEX access_token_by_person ON access_token (person_id, school_id);
      CREATE TABLE feed_head (
        school_id uuid NOT NULL,
        last bigint NOT NULL DEFAULT 0,
        low bigint NOT NULL DEFAULT 0,
        PRIMARY KEY (school_id),
        FOREIGN KEY (school_id) REFERENCES school (id)
      );
      CREATE TABLE feed_event (
        school_id uuid NOT NULL,
        number bigint NOT NULL,
        copy_id uuid NOT NULL,
        entry bigint NOT NULL,
        numbered_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, number),
        FOREIGN KEY (school_id, copy_id) REFERENCES copy (school_id, id)
      );
      CREATE UNIQUE INDEX feed_event_by_entry ON feed_event (entry, school_id);
      CREATE INDEX copy_journal_by_number ON copy_journal (number, school_id);
      CREATE TABLE webhook (
        school_id uuid NOT NULL,
        id uuid NOT NULL,
        person_id uuid NOT NULL,
        address text NOT NULL,
        secret text NOT NULL,
        kinds jsonb NOT NULL,
        made_at timestamptz NOT NULL,
        sent_up_to bigint NOT NULL,
        next_at timestamptz NOT NULL,
        failures integer NOT NULL DEFAULT 0,
        last_at timestamptz,
        problem text,
        stopped_at timestamptz,
        PRIMARY KEY (school_id, id),
        FOREIGN KEY (school_id, person_id) REFERENCES person (school_id, id)
      );
      CREATE INDEX webhook_by_person ON webhook (person_id, school_id);
      CREATE INDEX webhook_next ON webhook (next_at) WHERE stopped_at IS NULL;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
