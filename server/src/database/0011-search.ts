import type { MigrationInterface, QueryRunner } from 'typeorm'

const NAME = (row: string): string => `COALESCE(json_extract(${row}."spec", '$.name'), '')`
const INTO_TEXT = (row: string): string =>
  `INSERT INTO "search_text" ("rowid", "plate", "name", "customer") VALUES (${row}."n", ${row}."plate", ${row}."name", ${row}."customer")`
const OUT_OF_TEXT = `INSERT INTO "search_text" ("search_text", "rowid", "plate", "name", "customer")
  VALUES ('delete', old."n", old."plate", old."name", old."customer")`

/**
 * What a car is found by (SQLite's own full-text search, by threes of letters, so that any part of a word is found), which cause a
 * visit confirmed, how old a write is, and in whose hand a run is.
 */
export class Search1700000000011 implements MigrationInterface {
  readonly name = 'Search1700000000011'

  async up(q: QueryRunner): Promise<void> {
    for (const sql of [
      `CREATE TABLE "search" ("n" integer PRIMARY KEY NOT NULL, "vehicleId" text NOT NULL UNIQUE, "plate" text NOT NULL,
        "name" text NOT NULL, "customer" text NOT NULL)`,
      `CREATE INDEX "ix_search_name" ON "search" ("name" COLLATE NOCASE)`,
      `CREATE INDEX "ix_search_customer" ON "search" ("customer" COLLATE NOCASE)`,
      `CREATE VIRTUAL TABLE "search_text" USING fts5 ("plate", "name", "customer", content="search", content_rowid="n", tokenize="trigram")`,
      `CREATE TRIGGER "search_in" AFTER INSERT ON "search" BEGIN ${INTO_TEXT('new')}; END`,
      `CREATE TRIGGER "search_out" AFTER DELETE ON "search" BEGIN ${OUT_OF_TEXT}; END`,
      `CREATE TRIGGER "search_other" AFTER UPDATE ON "search" BEGIN ${OUT_OF_TEXT}; ${INTO_TEXT('new')}; END`,
      `CREATE TRIGGER "vehicles_in" AFTER INSERT ON "vehicles" BEGIN
        INSERT INTO "search" ("vehicleId", "plate", "name", "customer") VALUES (new."id", new."plate", ${NAME('new')}, new."customer");
       END`,
      `CREATE TRIGGER "vehicles_other" AFTER UPDATE ON "vehicles" BEGIN
        UPDATE "search" SET "plate" = new."plate", "name" = ${NAME('new')}, "customer" = new."customer" WHERE "vehicleId" = new."id";
       END`,
      `CREATE TRIGGER "vehicles_out" AFTER DELETE ON "vehicles" BEGIN DELETE FROM "search" WHERE "vehicleId" = old."id"; END`,
      `INSERT INTO "search" ("vehicleId", "plate", "name", "customer")
        SELECT v."id", v."plate", ${NAME('v')}, v."customer" FROM "vehicles" v`,
      `CREATE INDEX "ix_codes_code" ON "codes" ("code")`,
      `CREATE INDEX "ix_writes_receivedAt" ON "writes" ("receivedAt")`,
      `ALTER TABLE "runs" ADD COLUMN "leader" text`,
      `CREATE TABLE "outcomes" ("visitId" text PRIMARY KEY NOT NULL, "version" integer NOT NULL, "madeBy" text NOT NULL, "fault" text)`,
    ])
      await q.query(sql)
  }

  async down(q: QueryRunner): Promise<void> {
    for (const trigger of ['vehicles_in', 'vehicles_other', 'vehicles_out', 'search_in', 'search_out', 'search_other'])
      await q.query(`DROP TRIGGER "${trigger}"`)
    for (const index of ['ix_codes_code', 'ix_writes_receivedAt']) await q.query(`DROP INDEX "${index}"`)
    await q.query(`ALTER TABLE "runs" DROP COLUMN "leader"`)
    for (const table of ['search_text', 'search', 'outcomes']) await q.query(`DROP TABLE "${table}"`)
  }
}
