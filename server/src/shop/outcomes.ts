import { Injectable, Logger } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import type { FaultId } from '@uvula/core'
import type { OutcomeCount } from '@uvula/contract'
import { DataSource } from 'typeorm'
import { VisitFiles } from '../records/visit-files.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { Weigher } from '../weigher/weigher.js'

/** Visits whose outcomes are counted: the latest ones handed over. */
const OUTCOMES_MOST = 300

type Handed = Pick<VisitEntity, 'id' | 'version'>

/** Causes that this shop's own visits confirmed. Each visit is weighed once, one after another, in the background. */
@Injectable()
export class Outcomes {
  private readonly log = new Logger('outcomes')
  /** The cause a visit confirmed, by visit and version. */
  private readonly known = new Map<string, FaultId | null>()
  private weighing = false

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly files: VisitFiles,
    private readonly weigher: Weigher,
  ) {}

  /** What is counted by now, and of how many; sets off the rest. */
  async count(): Promise<OutcomeCount> {
    const visits: Handed[] = await this.source.manager.find(VisitEntity, {
      where: { state: 'handed-over', deleted: false },
      order: { openedAt: 'DESC' },
      take: OUTCOMES_MOST,
      select: { id: true, version: true },
    })
    const unknown = visits.filter((v) => !this.known.has(keyOf(v)))
    if (unknown.length) void this.weigh(unknown)
    const causes: Partial<Record<FaultId, number>> = {}
    for (const v of visits) {
      const fault = this.known.get(keyOf(v))
      if (fault) causes[fault] = (causes[fault] ?? 0) + 1
    }
    return { causes, counted: visits.length - unknown.length, of: visits.length }
  }

  private async weigh(visits: readonly Handed[]): Promise<void> {
    if (this.weighing) return
    this.weighing = true
    try {
      for (const v of visits) {
        const [file] = await this.files.many([v.id])
        this.known.set(keyOf(v), file ? await this.weigher.confirmed(file) : null)
      }
    } catch (e) {
      this.log.error(e)
    } finally {
      this.weighing = false
    }
  }
}

const keyOf = (v: Handed): string => `${v.id} ${v.version}`
