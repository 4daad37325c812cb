import type { MigrationInterface, QueryRunner } from 'typeorm'

/** A cover note by mail whose copy was taken back before it went out is withdrawn, and waits again once there is a copy. */
export class WithdrawnNotes1764500000000 implements MigrationInterface {
  name = 'WithdrawnNotes1764500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE message
        DROP CONSTRAINT message_state_check,
        ADD CONSTRAINT message_state_check CHECK (state IN ('waiting', 'sent', 'failed', 'withdrawn'))
    `)
  }

  down(): Promise<void> {
    return Promise.reject(new Error('Migrations only go forward.'))
  }
}
