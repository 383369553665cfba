import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What a person said a recording's labels mean; the freeze-frame that came with a code. */
const COLUMNS = [
  ['recordings', 'mapping'],
  ['codes', 'frame'],
] as const

export class Live1700000000003 implements MigrationInterface {
  readonly name = 'Live1700000000003'

  async up(q: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await q.query(`ALTER TABLE "${table}" ADD COLUMN "${column}" text`)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await q.query(`ALTER TABLE "${table}" DROP COLUMN "${column}"`)
  }
}
