import { Body, Controller, Get, HttpCode, Post, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { Shop } from '@uvula/contract'
import type { Outcomes } from '@uvula/core'
import { OpenShopDto, ShopDto } from './shop.dto.js'
import { ShopService } from './shop.service.js'

@ApiTags('shop')
@Controller('api/shop')
export class ShopController {
  constructor(private readonly service: ShopService) {}

  @Get()
  get(): Promise<Shop> {
    return this.service.get()
  }

  @Put()
  put(@Body() dto: ShopDto): Promise<Shop> {
    return this.service.put(dto)
  }

  /** How often each cause was confirmed here. */
  @Get('outcomes')
  outcomes(): Promise<Outcomes> {
    return this.service.outcomes()
  }

  /** Opens the shop's own data file or the demo; the server is back within a second. */
  @Post('open')
  @HttpCode(202)
  open(@Body() dto: OpenShopDto): { readonly opening: string } {
    this.service.open(dto.which)
    return { opening: dto.which }
  }
}
