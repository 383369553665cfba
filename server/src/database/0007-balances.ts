import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Balances: what a waveform, a row of throttle gauges or a drop test said. */
export class Balances1700000000007 implements MigrationInterface {
  readonly name = 'Balances1700000000007'

  async up(q: QueryRunner): Promise<void> {
    await q.query(
      `CREATE TABLE "balances" ("id" text PRIMARY KEY NOT NULL, "version" integer NOT NULL, "by" text NOT NULL, "at" text NOT NULL,
        "receivedAt" text NOT NULL, "deleted" boolean NOT NULL DEFAULT (0), "againstRule" text,
        "visitId" text NOT NULL REFERENCES "visits" ("id"), "round" integer NOT NULL, "taken" text NOT NULL)`,
    )
    await q.query(`CREATE INDEX "ix_balances_visitId" ON "balances" ("visitId")`)
  }

  async down(q: QueryRunner): Promise<void> {
    await q.query(`DROP TABLE "balances"`)
  }
}
