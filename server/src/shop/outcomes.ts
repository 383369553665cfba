import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import type { FaultId } from '@uvula/core'
import type { OutcomeCount } from '@uvula/contract'
import { DataSource, In } from 'typeorm'
import { WriteLane } from '../database/write-lane.js'
import { Changes } from '../records/changes.js'
import { VisitFiles } from '../records/visit-files.js'
import { VERSION } from '../program.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { Weigher } from '../threads/weigher.js'
import { OutcomeEntity } from './outcome.entity.js'

/** Visits whose outcomes are counted: the latest ones handed over. */
const OUTCOMES_MOST = 300

type Handed = Pick<VisitEntity, 'id' | 'version'>

/**
 * Causes that this shop's own visits confirmed. Each visit is weighed once, when it is handed over or first asked for, one after
 * another in the background, and what came of it is kept in the shop's file.
 */
@Injectable()
export class Outcomes implements OnModuleDestroy {
  private readonly log = new Logger('outcomes')
  private readonly stop: () => void
  private weighing: Promise<void> | undefined
  private ended = false

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly lane: WriteLane,
    private readonly files: VisitFiles,
    private readonly weigher: Weigher,
    changes: Changes,
  ) {
    this.stop = changes.onChange(({ noun }) => noun === 'reports' && void this.count().catch((e) => this.log.error(e)))
  }

  async onModuleDestroy(): Promise<void> {
    this.stop()
    this.ended = true
    await this.weighing
  }

  /** What is counted by now, and of how many; sets off the rest. */
  async count(): Promise<OutcomeCount> {
    const visits: Handed[] = await this.source.manager.find(VisitEntity, {
      where: { state: 'handed-over', deleted: false },
      order: { openedAt: 'DESC' },
      take: OUTCOMES_MOST,
      select: { id: true, version: true },
    })
    const kept = await this.source.manager.findBy(OutcomeEntity, {
      visitId: In(visits.map((v) => v.id)),
      madeBy: VERSION,
    })
    const known = new Map(kept.map((o) => [keyOf({ id: o.visitId, version: o.version }), o.fault]))
    const unknown = visits.filter((v) => !known.has(keyOf(v)))
    if (unknown.length) this.weighing ??= this.weigh(unknown).finally(() => (this.weighing = undefined))
    const causes: Partial<Record<FaultId, number>> = {}
    for (const v of visits) {
      const fault = known.get(keyOf(v))
      if (fault) causes[fault] = (causes[fault] ?? 0) + 1
    }
    return { causes, counted: visits.length - unknown.length, of: visits.length }
  }

  private async weigh(visits: readonly Handed[]): Promise<void> {
    try {
      for (const { id, version } of visits) {
        if (this.ended) return
        const [file] = await this.files.many([id])
        const fault = file ? await this.weigher.confirmed(file) : null
        await this.lane.run((m) => m.save(OutcomeEntity, { visitId: id, version, madeBy: VERSION, fault }))
      }
    } catch (e) {
      // a thread that is ended with the server leaves its question
      if (!this.ended) this.log.error(e)
    }
  }
}

const keyOf = (v: Handed): string => `${v.id} ${v.version}`
