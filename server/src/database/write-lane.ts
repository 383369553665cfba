import { Injectable, type OnApplicationShutdown } from '@nestjs/common'
import { DataSource, type EntityManager } from 'typeorm'
import { databaseOptions } from './options.js'
import { isPostgres, openPostgres, requireAlone } from './postgres.js'

/** What of SQLite's driver is used here: its one runner, and SQLite's own word on whether a transaction stands. */
interface OneRunner {
  queryRunner?: unknown
  readonly databaseConnection: { readonly inTransaction: boolean; exec(sql: string): unknown }
}

/**
 * The one lane to a shop's database: writes go one after another, each in a transaction of its own on a connection that
 * nothing else uses. TypeORM has one runner for a SQLite connection; two transactions that overlap on it nest as
 * savepoints, and what the inner one acknowledged goes with the outer one's rollback. So nothing is awaited inside but
 * the database, and nothing begins before the one before it has ended. PostgreSQL keeps the same order: its lane has one connection.
 */
@Injectable()
export class WriteLane implements OnApplicationShutdown {
  private last: Promise<unknown> = Promise.resolve()

  private constructor(private readonly source: DataSource) {}

  /** Opens a shop's database for writing and migrates it. @throws what it says when it cannot be opened */
  static async open(database: string): Promise<WriteLane> {
    return new WriteLane(
      isPostgres(database)
        ? await openPostgres(database)
        : await new DataSource(databaseOptions(database)).initialize(),
    )
  }

  /**
   * Runs `work` in a transaction when its turn has come. Resolved only once it is committed: what is answered then is on
   * the disk. @throws what `work` or the database threw; nothing of it is stored then, and the next in the lane is not touched
   */
  run<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const turn = this.last.then(() => this.transact(work))
    this.last = turn.catch(() => undefined)
    return turn
  }

  private async transact<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    if (this.source.options.type === 'postgres')
      return this.source.transaction(async (m) => {
        // a connection that broke took its lock along
        await requireAlone(m)
        return work(m)
      })
    try {
      return await this.source.transaction(work)
    } catch (e) {
      this.startAfresh()
      throw e
    }
  }

  /**
   * SQLite rolls a transaction back by itself when the disk is full, and TypeORM's runner then still counts it as
   * open: every later write would be a savepoint of a transaction that nobody commits. After any failure the
   * connection is brought to rest and the runner is thrown away; the next write gets a new one.
   */
  private startAfresh(): void {
    const driver = this.source.driver as unknown as OneRunner
    if (driver.databaseConnection.inTransaction) driver.databaseConnection.exec('ROLLBACK')
    driver.queryRunner = undefined
  }

  /** Waits for what is in the lane, then closes the file; by then nobody asks any more and all that works beside has ended. */
  async onApplicationShutdown(): Promise<void> {
    await this.last
    await this.source.destroy()
  }
}
