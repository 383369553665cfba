import { Body, Controller, Get, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { ProcedureRecord } from '@uvula/core'
import { ProcedureDto } from './procedure.dto.js'
import { ProceduresService } from './procedures.service.js'

@ApiTags('procedures')
@Controller('api/procedures')
export class ProceduresController {
  constructor(private readonly service: ProceduresService) {}

  /** The shop's own. */
  @Get()
  list(): Promise<ProcedureRecord[]> {
    return this.service.list()
  }

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: ProcedureDto,
  ): Promise<ProcedureRecord> {
    return this.service.write(id, key, dto)
  }
}
