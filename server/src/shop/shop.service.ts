import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import type { Shop } from '@uvula/contract'
import { WriteLane } from '../database/write-lane.js'
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

@Injectable()
export class ShopService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly restarter: Restarter,
    private readonly lane: WriteLane,
  ) {}

  async get(manager: EntityManager = this.source.manager): Promise<Shop> {
    return (await manager.findOneBy(ShopEntity, { id: 1 }))?.value ?? EMPTY_SHOP
  }

  async put(shop: Omit<Shop, 'demo'>): Promise<Shop> {
    return this.lane.run(async (manager) => {
      const { demo } = await this.get(manager)
      const value = { ...shop, demo }
      await manager.save(ShopEntity, { id: 1, value })
      return value
    })
  }

  /** Leaves the demo for an own, empty data file, or goes back to it. Both stay as they are. */
  open(which: 'own' | 'demo'): void {
    this.restarter.restartWith(which)
  }
}
