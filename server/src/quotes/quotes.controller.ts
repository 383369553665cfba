import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { QuoteRecord } from '@uvula/core'
import { QuoteDto } from './quote.dto.js'
import { QuotesService } from './quotes.service.js'

@ApiTags('quotes')
@Controller('api/quotes')
export class QuotesController {
  constructor(private readonly service: QuotesService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: QuoteDto): Promise<QuoteRecord> {
    return this.service.write(id, key, dto)
  }
}
