import { Controller, Get, Injectable, Module } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { InjectDataSource } from '@nestjs/typeorm'
import type { Bay } from '@uvula/contract'
import { DataSource } from 'typeorm'
import { VisitFiles } from '../records/visit-files.js'
import { ShopService } from '../shop/shop.service.js'
import { VisitEntity } from '../visits/visit.entity.js'

/** Cars shown in the bay at most, latest first. */
const BAY_MOST = 40

@Injectable()
export class BayService {
  constructor(
    private readonly files: VisitFiles,
    private readonly shop: ShopService,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  async get(): Promise<Bay> {
    const visits = await this.source.manager.find(VisitEntity, {
      where: { state: 'open', deleted: false },
      order: { openedAt: 'DESC' },
      take: BAY_MOST,
      select: { id: true, openedAt: true },
    })
    return { shop: await this.shop.get(), rows: await this.files.many(visits.map((v) => v.id)) }
  }
}

@ApiTags('bay')
@Controller('api/bay')
export class BayController {
  constructor(private readonly service: BayService) {}

  /** Open visits, latest first, each whole: what a car waits for is computed from it. */
  @Get()
  get(): Promise<Bay> {
    return this.service.get()
  }
}

@Module({ controllers: [BayController], providers: [BayService] })
export class BayModule {}
