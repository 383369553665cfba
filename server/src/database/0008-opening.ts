import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Columns of opening up: what is known of a part besides its name, where branches hung when the car came, what a test read. */
const COLUMNS = [
  ['items', 'more'],
  ['visits', 'asFound'],
  ['findings', 'figures'],
] as const

export class Opening1700000000008 implements MigrationInterface {
  readonly name = 'Opening1700000000008'

  async up(q: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await q.query(`ALTER TABLE "${table}" ADD COLUMN "${column}" text`)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await q.query(`ALTER TABLE "${table}" DROP COLUMN "${column}"`)
  }
}
