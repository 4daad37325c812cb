import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * That somebody in a class may be due a copy by themselves is put down with the change that is the reason, and stays until
 * it was looked at: no error, restart or crash loses it.
 */
export class ClassLooks1764700000000 implements MigrationInterface {
  name = 'ClassLooks1764700000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE SEQUENCE class_look_number;
      CREATE TABLE class_look (
        school_id uuid NOT NULL,
        class_id uuid NOT NULL,
        -- Grows when it is wished again while it is being looked at.
        number bigint NOT NULL DEFAULT nextval('class_look_number'),
        PRIMARY KEY (school_id, class_id)
      );
      CREATE FUNCTION look_at_members() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          INSERT INTO class_look (school_id, class_id) SELECT DISTINCT school_id, class_id FROM altered ORDER BY 1, 2
          ON CONFLICT (school_id, class_id) DO UPDATE SET number = excluded.number;
          RETURN NULL;
        END $$;
      CREATE FUNCTION look_at_groups() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
          INSERT INTO class_look (school_id, class_id)
          SELECT DISTINCT s.school_id, s.class_id FROM altered a JOIN group_set s ON s.school_id = a.school_id AND s.id = a.set_id ORDER BY 1, 2
          ON CONFLICT (school_id, class_id) DO UPDATE SET number = excluded.number;
          RETURN NULL;
        END $$;
      CREATE TRIGGER members_came AFTER INSERT ON class_member
        REFERENCING NEW TABLE AS altered FOR EACH STATEMENT EXECUTE FUNCTION look_at_members();
      CREATE TRIGGER members_changed AFTER UPDATE ON class_member
        REFERENCING NEW TABLE AS altered FOR EACH STATEMENT EXECUTE FUNCTION look_at_members();
      CREATE TRIGGER groups_came AFTER INSERT ON group_member
        REFERENCING NEW TABLE AS altered FOR EACH STATEMENT EXECUTE FUNCTION look_at_groups();
      CREATE TRIGGER groups_changed AFTER UPDATE ON group_member
        REFERENCING NEW TABLE AS altered FOR EACH STATEMENT EXECUTE FUNCTION look_at_groups();
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
