import type { MigrationInterface, QueryRunner } from 'typeorm'

/** How many answer spaces of an edition are reserved, and for whom: in the copies of all others they do not count. */
export class ReservedSections1764400000000 implements MigrationInterface {
  name = 'ReservedSections1764400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE FUNCTION edition_reserved(content jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
        SELECT coalesce(jsonb_agg(jsonb_build_object(
                 'people', (SELECT coalesce(jsonb_agg(person -> 'id'), '[]') FROM jsonb_array_elements(block #> '{whose,people}') AS person),
                 'spaces', (SELECT count(*) FROM jsonb_path_query(block,
                   'strict $.** ? (@.kind == "line" || @.kind == "passage" || @.kind == "choice" || @.kind == "number" || @.kind == "gap" || @.kind == "cell" || @.kind == "drawing" || @.kind == "file")')))), '[]')
          FROM jsonb_array_elements(content -> 'blocks') AS block WHERE block #>> '{whose,is}' = 'named' $$;
      ALTER TABLE edition ADD COLUMN reserved_parts jsonb GENERATED ALWAYS AS (edition_reserved(content)) STORED NOT NULL;
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
