import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Columns of what every remedy says: the round that stood before it, and whether a reading was put right by a word. */
const COLUMNS = [
  ['steps', 'afterRound', 'integer'],
  ['runs', 'afterRound', 'integer'],
  ['readings', 'corrected', 'boolean'],
] as const

export class Remedies1700000000006 implements MigrationInterface {
  readonly name = 'Remedies1700000000006'

  async up(q: QueryRunner): Promise<void> {
    for (const [table, column, type] of COLUMNS) await q.query(`ALTER TABLE "${table}" ADD COLUMN "${column}" ${type}`)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await q.query(`ALTER TABLE "${table}" DROP COLUMN "${column}"`)
  }
}
