import { Injectable } from '@nestjs/common'
import { allEvents, mayBegin, procedureOfRun, type RunRecord } from '@uvula/core'
import { badField, refused } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { RunDto } from './run.dto.js'
import { RunEntity } from './run.entity.js'

@Injectable()
export class RunsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /**
   * To begin is a command and may be refused. Events of a run that has gone on meanwhile are facts: an offline
   * tablet's late ones are stored, and marked when the run should not have begun.
   */
  write(id: string, key: string | undefined, dto: RunDto): Promise<RunRecord> {
    const own = {
      visitId: dto.visitId,
      procedure: dto.procedure,
      attempt: dto.attempt,
      preconditions: dto.preconditions,
      afterRound: dto.afterRound ?? null,
      own: dto.own ?? null,
      reset: dto.reset ?? null,
    }
    if (dto.procedure !== 'feed' && (!procedureOfRun(own) || (own.own && own.own.id !== dto.procedure)))
      throw badField('procedure', dto.procedure, 'a procedure that is known here, or the shop’s own with it')
    const events = dto.events.map((e) => ({ kind: e.kind, atMs: e.atMs }))
    const feed = dto.feed && {
      ...dto.feed,
      product: { ...dto.feed.product },
      ...(dto.feed.equipment ? { equipment: { ...dto.feed.equipment } } : {}),
      ...(dto.feed.trims ? { trims: { ...dto.feed.trims } } : {}),
    }
    return this.writer.write({
      noun: 'runs',
      entity: RunEntity,
      id,
      key,
      dto,
      // two tablets at one feed: what either told has happened
      adds: dto.procedure === 'feed' && !dto.deleted,
      fields: async (manager, current) => {
        const fields = {
          ...own,
          preconditions: [...new Set([...(feed ? (current?.preconditions ?? []) : []), ...own.preconditions])],
          events: feed ? allEvents(current?.events ?? [], events) : events,
          feed: feed ?? null,
          // what is told of a run without a word of its leader leaves it in the hand it is in
          leader:
            dto.leader === undefined
              ? (current?.leader ?? null)
              : dto.leader && { page: dto.leader.page, by: dto.leader.by },
        }
        if (current?.events.length) return fields
        const file = await this.files.ofWrite(dto.visitId, manager)
        const begun = events.at(0)?.atMs ?? Date.now()
        const gate = mayBegin(
          file,
          {
            ...own,
            events: [],
            ...(feed ? { feed } : {}),
            id,
            version: 0,
            by: dto.by,
            at: dto.at,
          },
          begun,
        )
        if (gate.ok || events.length === 0) return fields
        const onlyBegin = events.length === 1
        if (onlyBegin) throw refused(gate.refusals[0].rule, gate.refusals.map((r) => r.message).join(' '))
        return { ...fields, againstRule: gate.refusals[0].rule }
      },
    })
  }
}
