import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { ON_FILE, ON_POSTGRES, type Asked, type Ways } from './search-ways.js'

/** Cars that a search answers with at most. */
const FOUND_MOST = 20
/** Parts of words are found from so many letters on (by threes); fewer have to begin a plate, a name or a customer. */
const LETTERS = 3
/** A trouble code as it is typed (SAE J2012). */
const CODE = /^[PBCU][0-9A-F]{4}$/i

/** Finds cars by plate, name, customer or trouble code; each way by an index, however large the shop. */
@Injectable()
export class Search {
  private readonly ways: Ways

  constructor(@InjectDataSource() private readonly source: DataSource) {
    this.ways = source.options.type === 'postgres' ? ON_POSTGRES : ON_FILE
  }

  /** Ids of the cars, those whose plate begins so first. */
  async cars(query: string): Promise<readonly string[]> {
    const words = query.trim()
    if (!words) return []
    const asked = [this.ways.byStart('plate', words)]
    if (CODE.test(words)) asked.push(this.ways.byCode(words.toUpperCase()))
    if (words.length >= LETTERS) asked.push(this.ways.byPart(words))
    else asked.push(this.ways.byStart('name', words), this.ways.byStart('customer', words))
    const found: string[] = []
    for (const a of asked) found.push(...(await this.ids(a)))
    return [...new Set(found)].slice(0, FOUND_MOST)
  }

  private async ids({ sql, values }: Asked): Promise<string[]> {
    const rows = await this.source.query<{ id: string }[]>(`${sql} LIMIT ${FOUND_MOST}`, [...values])
    return rows.map((r) => r.id)
  }
}
