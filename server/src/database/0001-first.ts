import type { MigrationInterface, QueryRunner } from 'typeorm'

const RECORD = `"id" text PRIMARY KEY NOT NULL, "version" integer NOT NULL, "by" text NOT NULL, "at" text NOT NULL,
  "receivedAt" text NOT NULL, "deleted" boolean NOT NULL DEFAULT (0), "againstRule" text`
const OF_VISIT = `"visitId" text NOT NULL REFERENCES "visits" ("id")`

/** The first schema. */
export class First1700000000001 implements MigrationInterface {
  readonly name = 'First1700000000001'

  async up(q: QueryRunner): Promise<void> {
    const tables = [
      `CREATE TABLE "vehicles" (${RECORD}, "plate" text NOT NULL, "customer" text NOT NULL, "vin" text, "spec" text NOT NULL)`,
      `CREATE TABLE "visits" (${RECORD}, "vehicleId" text NOT NULL REFERENCES "vehicles" ("id"), "openedAt" text NOT NULL, "state" text NOT NULL,
        "intent" text NOT NULL, "complaint" text NOT NULL, "signs" text NOT NULL, "conditions" text NOT NULL, "odometerKm" real,
        "altitudeM" real NOT NULL, "ambientC" real NOT NULL, "baroKpa" real)`,
      `CREATE TABLE "readings" (${RECORD}, ${OF_VISIT}, "round" integer NOT NULL, "slot" text NOT NULL, "channel" text NOT NULL, "value" real NOT NULL, "typed" text NOT NULL)`,
      `CREATE TABLE "findings" (${RECORD}, ${OF_VISIT}, "test" text NOT NULL, "station" text NOT NULL, "item" text, "outcome" text NOT NULL, "note" text, "value" real, "unit" text)`,
      `CREATE TABLE "repairs" (${RECORD}, ${OF_VISIT}, "station" text NOT NULL, "kind" text NOT NULL, "state" text NOT NULL, "afterRound" integer NOT NULL,
        "temporary" boolean NOT NULL, "recheckOn" text, "minutes" real NOT NULL, "partsPrice" real NOT NULL, "conditions" text NOT NULL, "note" text)`,
      `CREATE TABLE "recordings" (${RECORD}, ${OF_VISIT}, "round" integer NOT NULL, "name" text NOT NULL, "sha256" text NOT NULL, "bytes" integer NOT NULL,
        "rows" integer NOT NULL, "points" text NOT NULL, "closedThrottlePct" real, "warnings" text NOT NULL, "columns" blob NOT NULL)`,
      `CREATE TABLE "photos" (${RECORD}, ${OF_VISIT}, "station" text NOT NULL, "sha256" text NOT NULL, "mime" text NOT NULL)`,
      `CREATE TABLE "reports" (${RECORD}, ${OF_VISIT}, "number" integer NOT NULL, "issuedAt" text NOT NULL, "sheet" text NOT NULL)`,
      `CREATE TABLE "history" ("seq" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "recordId" text NOT NULL, "noun" text NOT NULL, "version" integer NOT NULL, "value" text NOT NULL, "replacedAt" text NOT NULL)`,
      `CREATE TABLE "writes" ("key" text PRIMARY KEY NOT NULL, "noun" text NOT NULL, "recordId" text NOT NULL, "answer" text NOT NULL, "receivedAt" text NOT NULL)`,
      `CREATE TABLE "blobs" ("sha256" text PRIMARY KEY NOT NULL, "mime" text NOT NULL, "bytes" integer NOT NULL, "content" blob NOT NULL)`,
      `CREATE TABLE "shop" ("id" integer PRIMARY KEY NOT NULL, "value" text NOT NULL)`,
    ]
    for (const sql of tables) await q.query(sql)
    const indices: [string, string][] = [
      ['vehicles', 'plate'],
      ['visits', 'vehicleId'],
      ['visits', 'openedAt'],
      ['visits', 'state'],
      ['readings', 'visitId'],
      ['findings', 'visitId'],
      ['repairs', 'visitId'],
      ['recordings', 'visitId'],
      ['photos', 'visitId'],
      ['reports', 'visitId'],
      ['history', 'recordId'],
    ]
    for (const [table, column] of indices)
      await q.query(`CREATE INDEX "ix_${table}_${column}" ON "${table}" ("${column}")`)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const t of [
      'reports',
      'photos',
      'recordings',
      'repairs',
      'findings',
      'readings',
      'visits',
      'vehicles',
      'history',
      'writes',
      'blobs',
      'shop',
    ])
      await q.query(`DROP TABLE "${t}"`)
  }
}
