import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import type { Recording } from '@uvula/core'
import { DataSource } from 'typeorm'
import { notFound } from '../records/problem.js'
import { unpackColumns } from './columns.js'
import { RecordingEntity } from './recording.entity.js'

/** So long a recording stays unpacked after it was last asked for [ms]. */
const STAYS_MS = 60_000

/** Columns of recordings; the one that was asked for last stays unpacked for a while: who looks closer asks again at once. */
@Injectable()
export class OpenedRecordings {
  private last: { readonly key: string; readonly columns: Promise<Recording> } | undefined
  private timer: NodeJS.Timeout | undefined

  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** @throws ProblemException where there is none of that id */
  async get(id: string): Promise<Recording> {
    const repository = this.source.manager.getRepository(RecordingEntity)
    const found = await repository.findOne({ where: { id }, select: { id: true, version: true } })
    if (!found) throw notFound('This recording')
    const key = `${id} ${found.version}`
    if (this.last?.key !== key) {
      const columns = repository.findOneByOrFail({ id }).then((r) => unpackColumns(r.columns))
      this.last = { key, columns }
      // one that cannot be unpacked is tried again when it is asked for again
      columns.catch(() => this.forget())
    }
    clearTimeout(this.timer)
    this.timer = setTimeout(() => this.forget(), STAYS_MS)
    this.timer.unref()
    return this.last.columns
  }

  private forget(): void {
    this.last = undefined
  }
}
