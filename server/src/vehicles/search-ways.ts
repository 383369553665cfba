/** A question to the database, without its limit: rows of `id`, of a vehicle. */
export interface Asked {
  readonly sql: string
  readonly values: readonly string[]
}

/** How a database is asked for cars, each way by an index of its own. */
export interface Ways {
  readonly byStart: (column: 'plate' | 'name' | 'customer', words: string) => Asked
  /** Any part of a plate, name or customer, of three letters or more. */
  readonly byPart: (words: string) => Asked
  /** Cars that came with a trouble code, the latest first. */
  readonly byCode: (code: string) => Asked
}

/** Sorts behind everything that begins alike. */
const LAST = '\uffff'

const byCode = (sign: string, code: string): Asked => ({
  sql: `SELECT v."vehicleId" AS "id" FROM "codes" c JOIN "visits" v ON v."id" = c."visitId"
    WHERE c."code" = ${sign} AND NOT c."deleted" AND NOT v."deleted" ORDER BY c."at" DESC`,
  values: [code],
})

/** SQLite: a table beside the vehicles, and its full-text search by threes of letters. */
export const ON_FILE: Ways = {
  byStart: (column, words) => ({
    sql:
      column === 'plate'
        ? `SELECT "id" FROM "vehicles" WHERE "plate" >= ? COLLATE NOCASE AND "plate" < ? COLLATE NOCASE`
        : `SELECT "vehicleId" AS "id" FROM "search" WHERE "${column}" >= ? COLLATE NOCASE AND "${column}" < ? COLLATE NOCASE`,
    values: [words, words + LAST],
  }),
  byPart: (words) => ({
    sql: `SELECT s."vehicleId" AS "id" FROM "search_text" t JOIN "search" s ON s."n" = t."rowid" WHERE "search_text" MATCH ?`,
    values: [`"${words.replaceAll('"', '""')}"`],
  }),
  byCode: (code) => byCode('?', code),
}

const literal = (words: string): string => words.replace(/[\\%_]/g, '\\$&')

const FOUND_BY = { plate: 'foundByPlate', name: 'foundByName', customer: 'foundByCustomer' } as const

/** PostgreSQL: columns of the vehicles that it works out itself, each with its index. */
export const ON_POSTGRES: Ways = {
  byStart: (column, words) => ({
    sql: `SELECT "id" FROM "vehicles" WHERE "${FOUND_BY[column]}" LIKE lower($1)`,
    values: [`${literal(words)}%`],
  }),
  byPart: (words) => ({
    sql: `SELECT "id" FROM "vehicles" WHERE "foundByPart" LIKE lower($1)`,
    values: [`%${literal(words)}%`],
  }),
  byCode: (code) => byCode('$1', code),
}
