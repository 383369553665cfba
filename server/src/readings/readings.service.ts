import { Injectable } from '@nestjs/common'
import { channelProblem, readingTooLate, TYPED_TOO_LATE, type ReadingRecord } from '@uvula/core'
import { badField, refused } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { ReadingDto } from './reading.dto.js'
import { ReadingEntity } from './reading.entity.js'

@Injectable()
export class ReadingsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /**
   * A reading is a fact. One typed into a round that a remedy has closed is stored, marked and counted nowhere; to change
   * one that stands there is a command, and asks for the word of a correction.
   */
  write(id: string, key: string | undefined, dto: ReadingDto): Promise<ReadingRecord> {
    const problem = channelProblem(dto.channel, dto.value)
    if (problem) throw badField('value', dto.value, problem)
    const { visitId, round, slot, channel, value, typed, corrected = null } = dto
    return this.writer.write({
      noun: 'readings',
      entity: ReadingEntity,
      id,
      key,
      dto,
      fields: async (manager, current) => {
        const stands = current && !current.deleted && current.againstRule !== TYPED_TOO_LATE ? current : null
        const goes = dto.deleted === true && stands !== null
        const asked = { round, at: dto.at, value: goes ? NaN : value, corrected }
        const late = (await this.files.hasWork(visitId, manager))
          ? readingTooLate(await this.files.ofWrite(visitId, manager), asked, stands)
          : undefined
        if (late === 'uncorrected')
          throw refused(
            'round-closed',
            `Something was done after this was measured: it is the “before”. Correct it by its word, or type the new figure into the round that is open.`,
          )
        return {
          visitId,
          round,
          slot,
          channel,
          value,
          typed,
          corrected,
          againstRule: late === 'late' ? TYPED_TOO_LATE : null,
        }
      },
    })
  }
}
