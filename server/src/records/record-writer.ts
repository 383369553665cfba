import { Injectable } from '@nestjs/common'
import type { EntityManager, EntityTarget } from 'typeorm'
import type { WriteNoun } from '@uvula/contract'
import { WriteLane } from '../database/write-lane.js'
import { Changes } from './changes.js'
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
  /**
   * The record's own fields, made inside the transaction; may refuse by throwing. Nothing but `manager` is awaited in
   * it: all other writes wait in the lane meanwhile.
   */
  readonly fields: (manager: EntityManager, current: E | null) => Promise<Partial<E>>
  /** Its fields hold what is stored and what is sent: a writer who had not seen the last of it takes nothing away. */
  readonly adds?: boolean
}

/** A record without its heavy columns: neither the history nor the write log needs them again. */
function forHistory(entity: object): object {
  const { columns: _, ...light } = toRecord<Record<string, unknown>>(entity)
  return light
}

/** Ids are made on screens of what a shop calls its things: any words, one line of them. */
const ID = /^(?!\s)[^\p{C}\p{Zl}\p{Zp}]{1,160}(?<!\s)$/u

/**
 * The one way a record is written: in the lane, in a transaction of its own, once per key, against what its writer
 * saw. The value it replaces goes to the history.
 */
@Injectable()
export class RecordWriter {
  constructor(
    private readonly lane: WriteLane,
    private readonly changes: Changes,
  ) {}

  /** @throws ProblemException on a conflict, with what the server holds */
  async write<E extends RecordEntity, R>(q: WriteRequest<E>): Promise<R> {
    if (!ID.test(q.id)) throw badField('id', q.id, 'letters, digits, spaces and signs on one line, 1 to 160 of them')
    if (!q.key || q.key.length > 100)
      throw badField('Idempotency-Key', q.key, 'a header of 1 to 100 characters, new for each write')
    const { noun, key } = q
    const answer = await this.lane.run((manager) => this.take<E, R>(manager, q, key))
    const visitId = noun === 'visits' ? q.id : (answer as { visitId?: string }).visitId
    this.changes.tell({ noun, key, ...(visitId === undefined ? {} : { visitId }) })
    return answer
  }

  private async take<E extends RecordEntity, R>(manager: EntityManager, q: WriteRequest<E>, key: string): Promise<R> {
    const earlier = await manager.findOneBy(WriteEntity, { key })
    if (earlier && (earlier.recordId !== q.id || earlier.noun !== q.noun))
      throw badField('Idempotency-Key', key, `a new key: this one was used for ${earlier.noun} ${earlier.recordId}`)
    if (earlier) return earlier.answer as R
    const repository = manager.getRepository(q.entity)
    const current = await repository.findOneBy({ id: q.id } as never)
    const sawCurrent = (q.adds === true && current !== null) || (await this.sawCurrent(manager, q, current))
    if (!sawCurrent && !current) throw conflict(q.noun, null)
    const receivedAt = new Date().toISOString()
    const fields = await q.fields(manager, current)
    const deleted = q.dto.deleted ?? false
    const answerWith = async (record: object): Promise<R> => {
      const answer = forHistory(record)
      await manager.insert(WriteEntity, { key, noun: q.noun, recordId: q.id, answer, receivedAt })
      return answer as R
    }
    if (!sawCurrent) {
      // two hands that entered the same are of one mind
      if (current!.deleted === deleted && isSame(fields, current!)) return answerWith(current!)
      throw conflict(q.noun, toRecord(current!))
    }
    requireSameVisit(fields, current)
    const { by, at } = q.dto
    const next = { ...current, ...fields, id: q.id, by, at, deleted, version: (current?.version ?? 0) + 1, receivedAt }
    if (current) await keepOld(manager, q.noun, current, receivedAt)
    return answerWith((await repository.save(repository.create(next as never))) as object)
  }

  /**
   * What a write changes of another record in its own transaction: with its version and its history, like any other.
   * @param by - who wrote what brought it about, and when
   */
  async changeToo<E extends RecordEntity>(
    manager: EntityManager,
    noun: WriteNoun,
    entity: EntityTarget<E>,
    id: string,
    part: Partial<E>,
    by: Pick<WriteDto, 'by' | 'at'>,
  ): Promise<void> {
    const repository = manager.getRepository(entity)
    const current = await repository.findOneByOrFail({ id } as never)
    const receivedAt = new Date().toISOString()
    await keepOld(manager, noun, current, receivedAt)
    const next = { ...current, ...part, by: by.by, at: by.at, version: current.version + 1, receivedAt }
    await repository.save(repository.create(next as never))
  }

  /**
   * Whether the writer saw what is stored now. Made upon an own earlier write, it saw the version which that one became,
   * and none when that one was never taken; else it saw the version that it names.
   */
  private async sawCurrent<E extends RecordEntity>(
    manager: EntityManager,
    q: WriteRequest<E>,
    current: E | null,
  ): Promise<boolean> {
    if (q.dto.basedOnKey === undefined) return q.dto.baseVersion === (current?.version ?? 0)
    const own = await manager.findOneBy(WriteEntity, { key: q.dto.basedOnKey })
    const became = own && own.noun === q.noun && own.recordId === q.id ? (own.answer as { version: number }) : undefined
    return became !== undefined && became.version === current?.version
  }
}

const keepOld = (manager: EntityManager, noun: WriteNoun, old: RecordEntity, replacedAt: string): Promise<unknown> =>
  manager.insert(HistoryEntity, { recordId: old.id, noun, version: old.version, value: forHistory(old), replacedAt })

/** Whether every field says what is stored already; columns follow from the file they were read from. */
function isSame(fields: object, current: object): boolean {
  return Object.entries(fields).every(
    ([k, x]) => k === 'columns' || JSON.stringify(x ?? null) === JSON.stringify((current as never)[k] ?? null),
  )
}

/** @throws ProblemException when a record would leave its visit: what was read on one car says nothing of another */
function requireSameVisit(fields: object, current: object | null): void {
  const [was, is] = [current, fields].map((x) => (x as { visitId?: string } | null)?.visitId)
  if (was !== undefined && is !== undefined && was !== is)
    throw badField('visitId', is, `the visit it belongs to, ${was}: an entry stays with its visit`)
}
