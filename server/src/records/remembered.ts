import { Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common'
import { In, LessThan } from 'typeorm'
import { WriteLane } from '../database/write-lane.js'
import { WriteEntity } from './history.entity.js'

/** A tablet keeps what it has not delivered for a season; a write's answer is kept twice as long [days]. */
export const REMEMBERED_DAYS = 183
/** Answers that go in one turn of the lane: whoever writes meanwhile waits a few milliseconds. */
const PIECE = 500
const FIRST_MS = 30_000
const EVERY_MS = 24 * 3_600_000

/** Forgets the answers of writes that nobody can send again: without it they would be half of a shop's file. */
@Injectable()
export class Remembered implements OnModuleInit, OnModuleDestroy {
  private readonly log = new Logger('writes')
  private timers: NodeJS.Timeout[] = []
  private ended = false

  constructor(private readonly lane: WriteLane) {}

  onModuleInit(): void {
    const forget = (): void => void this.forget().catch((e) => this.log.error(e))
    this.timers = [setTimeout(forget, FIRST_MS).unref(), setInterval(forget, EVERY_MS).unref()]
  }

  onModuleDestroy(): void {
    this.ended = true
    this.timers.forEach(clearTimeout)
  }

  /** @returns how many were forgotten */
  async forget(now = new Date()): Promise<number> {
    const before = new Date(now.getTime() - REMEMBERED_DAYS * 86_400_000).toISOString()
    let forgotten = 0
    for (let went = PIECE; went === PIECE && !this.ended; forgotten += went)
      went = await this.lane.run(async (m) => {
        const old = await m.find(WriteEntity, {
          where: { receivedAt: LessThan(before) },
          select: { key: true },
          take: PIECE,
        })
        if (old.length) await m.delete(WriteEntity, { key: In(old.map((w) => w.key)) })
        return old.length
      })
    return forgotten
  }
}
