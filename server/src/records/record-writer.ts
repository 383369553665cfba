import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager, type EntityTarget } from 'typeorm'
import type { WriteNoun } from '@uvula/contract'
import { HistoryEntity, WriteEntity } from './history.entity.js'
import { conflict, badField } from './problem.js'
import { toRecord, type RecordEntity } from './record.entity.js'
import type { WriteDto } from './fields.js'

/** What a write asks for. */
export interface WriteRequest<E extends RecordEntity> {
  readonly noun: WriteNoun
  readonly entity: EntityTarget<E>
  readonly id: string
  /** The sender's key: the same key again gets the same answer. */
  readonly key: string | undefined
  readonly dto: WriteDto
  /** The record's own fields, made inside the transaction; may refuse by throwing. */
  readonly fields: (manager: EntityManager, current: E | null) => Promise<Partial<E>>
}

/** A record without its heavy columns: neither the history nor the write log needs them again. */
function forHistory(entity: object): object {
  const { columns: _, ...light } = toRecord<Record<string, unknown>>(entity)
  return light
}

const ID = /^[\w:.@-]{1,160}$/

/**
 * The one way a record is written: in a transaction, once per key, against the version its writer saw. The
 * value it replaces goes to the history.
 */
@Injectable()
export class RecordWriter {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** @throws ProblemException on a conflict, with what the server holds */
  async write<E extends RecordEntity, R>(q: WriteRequest<E>): Promise<R> {
    if (!ID.test(q.id)) throw badField('id', q.id, 'letters, digits and : . @ - _, at most 160')
    if (!q.key || q.key.length > 100)
      throw badField('Idempotency-Key', q.key, 'a header of 1 to 100 characters, new for each write')
    return this.source.transaction(async (manager) => {
      const earlier = await manager.findOneBy(WriteEntity, { key: q.key })
      if (earlier) return earlier.answer as R
      const repository = manager.getRepository(q.entity)
      const current = await repository.findOneBy({ id: q.id } as never)
      if ((current?.version ?? 0) !== q.dto.baseVersion) throw conflict(q.noun, current ? toRecord(current) : null)
      const receivedAt = new Date().toISOString()
      const fields = await q.fields(manager, current)
      const { by, at, deleted } = q.dto
      const next = {
        ...current,
        ...fields,
        id: q.id,
        by,
        at,
        deleted: deleted ?? false,
        version: q.dto.baseVersion + 1,
        receivedAt,
      }
      if (current)
        await manager.insert(HistoryEntity, {
          recordId: q.id,
          noun: q.noun,
          version: current.version,
          value: forHistory(current),
          replacedAt: receivedAt,
        })
      const saved = await repository.save(repository.create(next as never))
      const answer = forHistory(saved as object) as R
      await manager.insert(WriteEntity, {
        key: q.key,
        noun: q.noun,
        recordId: q.id,
        answer: answer as object,
        receivedAt,
      })
      return answer
    })
  }
}
