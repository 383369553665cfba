import type { MigrationInterface, QueryRunner } from 'typeorm'

const RECORD = `"id" text PRIMARY KEY NOT NULL, "version" integer NOT NULL, "by" text NOT NULL, "at" text NOT NULL,
  "receivedAt" text NOT NULL, "deleted" boolean NOT NULL DEFAULT (0), "againstRule" text, "visitId" text NOT NULL REFERENCES "visits" ("id")`

/** Work on the engine: what comes off, what goes in, what is cleaned, fed, timed and read. */
const TABLES: Readonly<Record<string, string>> = {
  items: `"station" text NOT NULL, "name" text NOT NULL, "count" integer NOT NULL, "drive" text, "bag" text, "way" text, "arrival" text NOT NULL, "state" text NOT NULL, "until" text`,
  counts: `"thing" text NOT NULL, "station" text NOT NULL, "putIn" integer NOT NULL, "takenOut" integer NOT NULL`,
  steps: `"station" text NOT NULL, "surface" text NOT NULL, "product" text NOT NULL, "method" text NOT NULL, "passed" boolean NOT NULL`,
  ticks: `"caution" text NOT NULL`,
  runs: `"procedure" text NOT NULL, "attempt" integer NOT NULL, "preconditions" text NOT NULL, "events" text NOT NULL, "feed" text`,
  timers: `"label" text NOT NULL, "kind" text NOT NULL, "startedAt" text NOT NULL, "seconds" real NOT NULL, "ended" boolean NOT NULL`,
  codes: `"code" text NOT NULL, "state" text NOT NULL, "when" text NOT NULL, "cleared" boolean NOT NULL`,
}

export class Service1700000000002 implements MigrationInterface {
  readonly name = 'Service1700000000002'

  async up(q: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(TABLES)) {
      await q.query(`CREATE TABLE "${table}" (${RECORD}, ${columns})`)
      await q.query(`CREATE INDEX "ix_${table}_visitId" ON "${table}" ("visitId")`)
    }
  }

  async down(q: QueryRunner): Promise<void> {
    for (const table of Object.keys(TABLES)) await q.query(`DROP TABLE "${table}"`)
  }
}
