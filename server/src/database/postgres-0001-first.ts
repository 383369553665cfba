import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Compared letter by letter, as SQLite does: times and ids sort as they are written. */
const T = 'text COLLATE "C"'
const REAL = 'double precision'
const RECORD = `"id" ${T} PRIMARY KEY, "version" integer NOT NULL, "by" ${T} NOT NULL, "at" ${T} NOT NULL,
  "receivedAt" ${T} NOT NULL, "deleted" boolean NOT NULL DEFAULT false, "againstRule" ${T}`
const OF_VISIT = `${RECORD}, "visitId" ${T} NOT NULL REFERENCES "visits" ("id")`

const TABLES: Readonly<Record<string, string>> = {
  vehicles: `${RECORD}, "plate" ${T} NOT NULL, "customer" ${T} NOT NULL, "vin" ${T}, "spec" ${T} NOT NULL`,
  visits: `${RECORD}, "vehicleId" ${T} NOT NULL REFERENCES "vehicles" ("id"), "openedAt" ${T} NOT NULL, "state" ${T} NOT NULL,
    "intent" ${T} NOT NULL, "complaint" ${T} NOT NULL, "signs" ${T} NOT NULL, "conditions" ${T} NOT NULL, "odometerKm" ${REAL},
    "altitudeM" ${REAL} NOT NULL, "ambientC" ${REAL} NOT NULL, "baroKpa" ${REAL}, "asFound" ${T}`,
  readings: `${OF_VISIT}, "round" integer NOT NULL, "slot" ${T} NOT NULL, "channel" ${T} NOT NULL, "value" ${REAL} NOT NULL,
    "typed" ${T} NOT NULL, "corrected" boolean`,
  findings: `${OF_VISIT}, "test" ${T} NOT NULL, "station" ${T} NOT NULL, "item" ${T}, "outcome" ${T} NOT NULL, "note" ${T},
    "value" ${REAL}, "unit" ${T}, "figures" ${T}`,
  repairs: `${OF_VISIT}, "station" ${T} NOT NULL, "kind" ${T} NOT NULL, "state" ${T} NOT NULL, "afterRound" integer NOT NULL,
    "temporary" boolean NOT NULL, "recheckOn" ${T}, "minutes" ${REAL} NOT NULL, "partsPrice" ${REAL} NOT NULL,
    "conditions" ${T} NOT NULL, "note" ${T}`,
  recordings: `${OF_VISIT}, "round" integer NOT NULL, "name" ${T} NOT NULL, "sha256" ${T} NOT NULL, "bytes" integer NOT NULL,
    "rows" integer NOT NULL, "points" ${T} NOT NULL, "closedThrottlePct" ${REAL}, "warnings" ${T} NOT NULL, "mapping" ${T},
    "stretches" ${T}, "columns" bytea NOT NULL`,
  photos: `${OF_VISIT}, "station" ${T} NOT NULL, "sha256" ${T} NOT NULL, "mime" ${T} NOT NULL`,
  reports: `${OF_VISIT}, "number" integer NOT NULL, "issuedAt" ${T} NOT NULL, "sheet" ${T} NOT NULL`,
  items: `${OF_VISIT}, "station" ${T} NOT NULL, "name" ${T} NOT NULL, "count" integer NOT NULL, "drive" ${T}, "bag" ${T}, "way" ${T},
    "arrival" ${T} NOT NULL, "state" ${T} NOT NULL, "until" ${T}, "more" ${T}`,
  counts: `${OF_VISIT}, "thing" ${T} NOT NULL, "station" ${T} NOT NULL, "putIn" integer NOT NULL, "takenOut" integer NOT NULL`,
  steps: `${OF_VISIT}, "station" ${T} NOT NULL, "surface" ${T} NOT NULL, "product" ${T} NOT NULL, "method" ${T} NOT NULL,
    "passed" boolean NOT NULL, "afterRound" integer, "more" ${T}`,
  ticks: `${OF_VISIT}, "caution" ${T} NOT NULL`,
  runs: `${OF_VISIT}, "procedure" ${T} NOT NULL, "attempt" integer NOT NULL, "preconditions" ${T} NOT NULL, "events" ${T} NOT NULL,
    "feed" ${T}, "afterRound" integer, "own" ${T}, "reset" ${T}, "leader" ${T}`,
  timers: `${OF_VISIT}, "label" ${T} NOT NULL, "kind" ${T} NOT NULL, "startedAt" ${T} NOT NULL, "seconds" ${REAL} NOT NULL,
    "ended" boolean NOT NULL`,
  codes: `${OF_VISIT}, "code" ${T} NOT NULL, "state" ${T} NOT NULL, "when" ${T} NOT NULL, "cleared" boolean NOT NULL, "frame" ${T}`,
  balances: `${OF_VISIT}, "round" integer NOT NULL, "taken" ${T} NOT NULL`,
  quotes: `${OF_VISIT}, "lines" ${T} NOT NULL, "labourPerHour" ${REAL} NOT NULL, "taxPct" ${REAL} NOT NULL, "agreed" ${T}`,
  procedures: `${RECORD}, "value" ${T} NOT NULL`,
  fills: `${RECORD}, "vehicleId" ${T} NOT NULL REFERENCES "vehicles" ("id"), "on" ${T} NOT NULL, "odometerKm" ${REAL} NOT NULL,
    "litres" ${REAL} NOT NULL, "full" boolean NOT NULL`,
  history: `"seq" serial PRIMARY KEY, "recordId" ${T} NOT NULL, "noun" ${T} NOT NULL, "version" integer NOT NULL, "value" ${T} NOT NULL,
    "replacedAt" ${T} NOT NULL`,
  writes: `"key" ${T} PRIMARY KEY, "noun" ${T} NOT NULL, "recordId" ${T} NOT NULL, "answer" ${T} NOT NULL, "receivedAt" ${T} NOT NULL`,
  blobs: `"sha256" ${T} PRIMARY KEY, "mime" ${T} NOT NULL, "bytes" integer NOT NULL, "content" bytea NOT NULL`,
  shop: `"id" integer PRIMARY KEY, "value" ${T} NOT NULL`,
  outcomes: `"visitId" ${T} PRIMARY KEY, "version" integer NOT NULL, "madeBy" ${T} NOT NULL, "fault" ${T}`,
}

const OF_A_VISIT = Object.keys(TABLES).filter((t) => TABLES[t].startsWith(OF_VISIT))
const NAME = `(CAST("spec" AS jsonb) ->> 'name')`
const lower = (what: string): string => `lower((${what}) COLLATE "default")`
/** What a car is found by, worked out once when it is written: to take a name out of a car's data costs more than to find it. */
const FOUND_BY: Readonly<Record<string, string>> = {
  foundByPlate: lower('"plate"'),
  foundByName: lower(NAME),
  foundByCustomer: lower('"customer"'),
  foundByPart: lower(`"plate" || chr(10) || ${NAME} || chr(10) || "customer"`),
}

/** The schema on PostgreSQL as it first stood: that of a data file after its eleventh step. */
export class Group1700000000101 implements MigrationInterface {
  readonly name = 'Group1700000000101'

  async up(q: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(TABLES)) await q.query(`CREATE TABLE "${table}" (${columns})`)
    for (const [column, of] of Object.entries(FOUND_BY))
      await q.query(`ALTER TABLE "vehicles" ADD COLUMN "${column}" text GENERATED ALWAYS AS (${of}) STORED`)
    for (const table of OF_A_VISIT) await q.query(`CREATE INDEX "ix_${table}_visitId" ON "${table}" ("visitId")`)
    for (const [name, on] of [
      ['visits_vehicleId', '"visits" ("vehicleId")'],
      ['visits_openedAt', '"visits" ("openedAt")'],
      ['visits_bay', '"visits" ("state", "openedAt")'],
      ['fills_vehicleId', '"fills" ("vehicleId")'],
      ['history_recordId', '"history" ("recordId")'],
      ['writes_receivedAt', '"writes" ("receivedAt")'],
      ['codes_code', '"codes" ("code")'],
      ['vehicles_plate_any_case', '"vehicles" ("foundByPlate" text_pattern_ops)'],
      ['vehicles_name_any_case', '"vehicles" ("foundByName" text_pattern_ops)'],
      ['vehicles_customer_any_case', '"vehicles" ("foundByCustomer" text_pattern_ops)'],
    ])
      await q.query(`CREATE INDEX "ix_${name}" ON ${on}`)
    // by threes of letters, where the database has the extension and lets us: without it a part of a word is looked for car by car
    await q.query(`DO $$ BEGIN
      CREATE EXTENSION IF NOT EXISTS pg_trgm;
      CREATE INDEX "ix_vehicles_any_part" ON "vehicles" USING gin ("foundByPart" gin_trgm_ops);
    EXCEPTION WHEN OTHERS THEN RAISE NOTICE 'pg_trgm is not to be had: %', SQLERRM; END $$`)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const table of Object.keys(TABLES).reverse()) await q.query(`DROP TABLE "${table}"`)
  }
}
