import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { ItemRecord } from '@uvula/core'
import { ItemDto } from './item.dto.js'
import { ItemsService } from './items.service.js'

@ApiTags('items')
@Controller('api/items')
export class ItemsController {
  constructor(private readonly service: ItemsService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: ItemDto): Promise<ItemRecord> {
    return this.service.write(id, key, dto)
  }
}
