import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What the bay and a plate are looked up by. */
const INDICES = [
  ['ix_visits_bay', '"visits" ("state", "openedAt")'],
  ['ix_vehicles_plate_any_case', '"vehicles" ("plate" COLLATE NOCASE)'],
] as const

export class Lookups1700000000005 implements MigrationInterface {
  readonly name = 'Lookups1700000000005'

  async up(q: QueryRunner): Promise<void> {
    for (const [name, on] of INDICES) await q.query(`CREATE INDEX "${name}" ON ${on}`)
    // the pair serves whatever the single one did
    await q.query('DROP INDEX "ix_visits_state"')
  }

  async down(q: QueryRunner): Promise<void> {
    await q.query('CREATE INDEX "ix_visits_state" ON "visits" ("state")')
    for (const [name] of INDICES) await q.query(`DROP INDEX "${name}"`)
  }
}
