import type { MigrationInterface, QueryRunner } from 'typeorm'

/** People are found by the server, a page at a time, and two of one name are said once to be two. */
export class PeopleFound1764900000000 implements MigrationInterface {
  name = 'PeopleFound1764900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      -- Name, e-mail and number in the form in which they are looked for (core: findForm). Null: not written yet, which whoever
      -- looks does first; so nobody who changes a name has to think of it.
      ALTER TABLE person ADD COLUMN find_form text;
      CREATE INDEX person_unformed ON person (school_id) WHERE find_form IS NULL;
      CREATE FUNCTION person_unform() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          NEW.find_form := NULL;
          RETURN NEW;
        END $$;
      CREATE TRIGGER person_unform BEFORE UPDATE OF first_name, last_name, email, number ON person FOR EACH ROW
        WHEN ((OLD.first_name, OLD.last_name, OLD.email, OLD.number) IS DISTINCT FROM (NEW.first_name, NEW.last_name, NEW.email, NEW.number))
        EXECUTE FUNCTION person_unform();

      -- Two who look like one person and are not, as the office said. The smaller id comes first.
      CREATE TABLE different_people (
        school_id uuid NOT NULL,
        one_id uuid NOT NULL,
        two_id uuid NOT NULL,
        said_by uuid NOT NULL,
        said_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (school_id, one_id, two_id),
        CHECK (one_id < two_id),
        FOREIGN KEY (school_id, one_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, two_id) REFERENCES person (school_id, id),
        FOREIGN KEY (school_id, said_by) REFERENCES person (school_id, id)
      );
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
