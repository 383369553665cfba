import { Body, Controller, Get, HttpCode, Post, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { OutcomeCount, Shop } from '@uvula/contract'
import { Needs } from '../access/access.guard.js'
import { Outcomes } from './outcomes.js'
import { OpenShopDto, ShopDto } from './shop.dto.js'
import { ShopService } from './shop.service.js'

@ApiTags('shop')
@Controller('api/shop')
export class ShopController {
  constructor(
    private readonly service: ShopService,
    private readonly counted: Outcomes,
  ) {}

  @Get()
  get(): Promise<Shop> {
    return this.service.get()
  }

  @Put()
  @Needs('owner')
  put(@Body() dto: ShopDto): Promise<Shop> {
    return this.service.put(dto)
  }

  /** How often each cause was confirmed here, as far as it is counted. */
  @Get('outcomes')
  outcomes(): Promise<OutcomeCount> {
    return this.counted.count()
  }

  /** Opens the shop's own data file or the demo; the server is back within a second. */
  @Post('open')
  @Needs('owner')
  @HttpCode(202)
  open(@Body() dto: OpenShopDto): { readonly opening: string } {
    this.service.open(dto.which)
    return { opening: dto.which }
  }
}
