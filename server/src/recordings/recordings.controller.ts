import { Body, Controller, Get, Headers, Param, Put, Query, StreamableFile } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { RecordingRecord } from '@uvula/core'
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
  trace(@Param('id') id: string, @Query('channels') channels = ''): Promise<Record<string, (number | null)[]>> {
    return this.service.trace(id, String(channels).split(',').slice(0, 40))
  }
}
