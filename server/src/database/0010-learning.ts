import type { MigrationInterface, QueryRunner } from 'typeorm'

const META = `"id" text PRIMARY KEY NOT NULL, "version" integer NOT NULL, "by" text NOT NULL, "at" text NOT NULL,
        "receivedAt" text NOT NULL, "deleted" boolean NOT NULL DEFAULT (0), "againstRule" text`

/** A shop's own procedures, what was reset in a run, quotes, and tanks filled. */
export class Learning1700000000010 implements MigrationInterface {
  readonly name = 'Learning1700000000010'

  async up(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "runs" ADD COLUMN "own" text')
    await q.query('ALTER TABLE "runs" ADD COLUMN "reset" text')
    await q.query(`CREATE TABLE "procedures" (${META}, "value" text NOT NULL)`)
    await q.query(
      `CREATE TABLE "quotes" (${META}, "visitId" text NOT NULL REFERENCES "visits" ("id"), "lines" text NOT NULL,
        "labourPerHour" real NOT NULL, "taxPct" real NOT NULL, "agreed" text)`,
    )
    await q.query(`CREATE INDEX "ix_quotes_visitId" ON "quotes" ("visitId")`)
    await q.query(
      `CREATE TABLE "fills" (${META}, "vehicleId" text NOT NULL REFERENCES "vehicles" ("id"), "on" text NOT NULL,
        "odometerKm" real NOT NULL, "litres" real NOT NULL, "full" boolean NOT NULL)`,
    )
    await q.query(`CREATE INDEX "ix_fills_vehicleId" ON "fills" ("vehicleId")`)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const table of ['fills', 'quotes', 'procedures']) await q.query(`DROP TABLE "${table}"`)
    for (const column of ['own', 'reset']) await q.query(`ALTER TABLE "runs" DROP COLUMN "${column}"`)
  }
}
