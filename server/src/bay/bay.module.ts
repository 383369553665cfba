import { Controller, Get, Header, Injectable, Module } from '@nestjs/common'
import { ApiOkResponse, ApiTags } from '@nestjs/swagger'
import { InjectDataSource } from '@nestjs/typeorm'
import type { VisitFile } from '@uvula/core'
import { DataSource } from 'typeorm'
import { VisitFiles } from '../records/visit-files.js'
import { ShopService } from '../shop/shop.service.js'
import { VisitEntity } from '../visits/visit.entity.js'

/** Cars shown in the bay at most, latest first. */
const BAY_MOST = 40

/**
 * Answers with a `Bay`, put together from the text of each visit: one that is held is put into words once, and where nothing was
 * written since the last answer stands.
 */
@Injectable()
export class BayService {
  private readonly texts = new WeakMap<VisitFile, string>()
  private last: { readonly stands: number; readonly rows: string } | undefined

  constructor(
    private readonly files: VisitFiles,
    private readonly shop: ShopService,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  async get(): Promise<string> {
    return `{"shop":${JSON.stringify(await this.shop.get())},"rows":[${await this.rows()}]}`
  }

  private async rows(): Promise<string> {
    const stands = this.files.mark()
    if (this.last?.stands === stands) return this.last.rows
    const visits = await this.source.manager.find(VisitEntity, {
      where: { state: 'open', deleted: false },
      order: { openedAt: 'DESC' },
      take: BAY_MOST,
      select: { id: true, openedAt: true },
    })
    const files = await this.files.many(visits.map((v) => v.id))
    const rows = files.map((f) => this.textOf(f)).join()
    this.last = { stands, rows }
    return rows
  }

  private textOf(file: VisitFile): string {
    const known = this.texts.get(file)
    if (known !== undefined) return known
    const text = JSON.stringify(file)
    this.texts.set(file, text)
    return text
  }
}

@ApiTags('bay')
@Controller('api/bay')
export class BayController {
  constructor(private readonly service: BayService) {}

  /** Open visits, latest first, each whole: what a car waits for is computed from it. */
  @Get()
  @Header('Content-Type', 'application/json; charset=utf-8')
  @ApiOkResponse({ description: 'the bay: its shop, and rows of visits' })
  get(): Promise<string> {
    return this.service.get()
  }
}

@Module({ controllers: [BayController], providers: [BayService] })
export class BayModule {}
