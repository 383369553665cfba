import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { outcomesOf, type Outcomes } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { VisitFiles } from '../records/visit-files.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { ShopEntity } from './shop.entity.js'
import { Restarter } from './restarter.js'

/** A shop before it has said anything about itself. */
export const EMPTY_SHOP: Shop = {
  name: 'My shop',
  demo: false,
  altitudeM: 0,
  labourPerHour: 60,
  currency: 'credits',
  partsDays: [1, 2, 3, 4, 5],
}

/** Visits whose outcomes are counted. */
const OUTCOMES_MOST = 300

@Injectable()
export class ShopService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly restarter: Restarter,
    private readonly files: VisitFiles,
  ) {}

  /** Causes that this shop's own visits confirmed, of the latest ones handed over. */
  async outcomes(): Promise<Outcomes> {
    const visits = await this.source.manager.find(VisitEntity, {
      where: { state: 'handed-over' },
      order: { openedAt: 'DESC' },
      take: OUTCOMES_MOST,
      select: { id: true },
    })
    const known = visits.map((v) => v.id).join()
    // every visit is weighed twice: worked out anew only when another one was handed over
    if (known !== this.counted?.of)
      this.counted = { of: known, counts: outcomesOf(await this.files.many(visits.map((v) => v.id))) }
    return this.counted.counts
  }

  private counted: { readonly of: string; readonly counts: Outcomes } | undefined

  async get(manager: EntityManager = this.source.manager): Promise<Shop> {
    return (await manager.findOneBy(ShopEntity, { id: 1 }))?.value ?? EMPTY_SHOP
  }

  async put(shop: Omit<Shop, 'demo'>): Promise<Shop> {
    const { demo } = await this.get()
    const value = { ...shop, demo }
    await this.source.manager.save(ShopEntity, { id: 1, value })
    return value
  }

  /** Leaves the demo for an own, empty data file, or goes back to it. Both stay as they are. */
  open(which: 'own' | 'demo'): void {
    this.restarter.restartWith(which)
  }
}
