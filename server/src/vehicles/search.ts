import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'

/** Cars that a search answers with at most. */
const FOUND_MOST = 20
/** Parts of words are found from so many letters on (by threes); fewer have to begin a plate, a name or a customer. */
const LETTERS = 3
/** Sorts behind everything that begins alike. */
const LAST = '\uffff'
/** A trouble code as it is typed (SAE J2012). */
const CODE = /^[PBCU][0-9A-F]{4}$/i

/** Finds cars by plate, name, customer or trouble code; each way by an index, however large the shop. */
@Injectable()
export class Search {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Ids of the cars, those whose plate begins so first. */
  async cars(query: string): Promise<readonly string[]> {
    const words = query.trim()
    if (!words) return []
    const found = [...(await this.byPlate(words))]
    if (CODE.test(words)) found.push(...(await this.byCode(words.toUpperCase())))
    if (words.length >= LETTERS) found.push(...(await this.byPart(words)))
    else for (const column of ['name', 'customer'] as const) found.push(...(await this.byStart(column, words)))
    return [...new Set(found)].slice(0, FOUND_MOST)
  }

  private byPlate(words: string): Promise<string[]> {
    return this.ids(`SELECT "id" FROM "vehicles" WHERE "plate" >= ? COLLATE NOCASE AND "plate" < ? COLLATE NOCASE`, [
      words,
      words + LAST,
    ])
  }

  private byStart(column: 'name' | 'customer', words: string): Promise<string[]> {
    return this.ids(
      `SELECT "vehicleId" AS "id" FROM "search" WHERE "${column}" >= ? COLLATE NOCASE AND "${column}" < ? COLLATE NOCASE`,
      [words, words + LAST],
    )
  }

  private byPart(words: string): Promise<string[]> {
    return this.ids(
      `SELECT s."vehicleId" AS "id" FROM "search_text" t JOIN "search" s ON s."n" = t."rowid" WHERE "search_text" MATCH ?`,
      [`"${words.replaceAll('"', '""')}"`],
    )
  }

  /** Cars that came with a code, the latest first. */
  private byCode(code: string): Promise<string[]> {
    return this.ids(
      `SELECT v."vehicleId" AS "id" FROM "codes" c JOIN "visits" v ON v."id" = c."visitId"
       WHERE c."code" = ? AND c."deleted" = 0 AND v."deleted" = 0 ORDER BY c."at" DESC`,
      [code],
    )
  }

  private async ids(sql: string, values: readonly string[]): Promise<string[]> {
    const rows = await this.source.query<{ id: string }[]>(`${sql} LIMIT ${FOUND_MOST}`, [...values])
    return rows.map((r) => r.id)
  }
}
