import { Body, Controller, Get, Headers, Param, Put, Query, StreamableFile } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { Mapping, RecordingRecord, Trace } from '@uvula/core'
import { badField } from '../records/problem.js'
import { RecordingDto } from './recording.dto.js'
import { RecordingsService } from './recordings.service.js'

@ApiTags('recordings')
@Controller('api/recordings')
export class RecordingsController {
  constructor(private readonly service: RecordingsService) {}

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: RecordingDto,
  ): Promise<RecordingRecord> {
    return this.service.write(id, key, dto)
  }

  /** What was said of columns whose names tell nothing: said once, it holds on every tablet. */
  @Get('mappings')
  mappings(): Promise<readonly Mapping[]> {
    return this.service.mappings()
  }

  /** The file as it was dropped, byte for byte. */
  @Get(':id/original')
  async original(@Param('id') id: string): Promise<StreamableFile> {
    const { bytes, name } = await this.service.original(id)
    return new StreamableFile(bytes, {
      type: 'text/csv',
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    })
  }

  /** What was read from it, in the canonical form. */
  @Get(':id/canonical')
  async canonical(@Param('id') id: string): Promise<StreamableFile> {
    const { bytes, name } = await this.service.canonical(id)
    return new StreamableFile(bytes, {
      type: 'text/csv',
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    })
  }

  @Get(':id/trace')
  trace(
    @Param('id') id: string,
    @Query('channels') channels = '',
    @Query('from') from?: string,
    @Query('to') to?: string,
  ): Promise<Trace> {
    const ids = String(channels).split(',').slice(0, 40)
    if (from === undefined && to === undefined) return this.service.trace(id, ids)
    const [fromS, toS] = [Number(from), Number(to)]
    if (!(fromS < toS)) throw badField('from', from, 'a time in seconds before `to`, as in ?from=12.5&to=30')
    return this.service.trace(id, ids, [fromS, toS])
  }
}
