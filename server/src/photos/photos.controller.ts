import { Body, Controller, Get, Headers, Param, Put, StreamableFile } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { PhotoRecord } from '@uvula/core'
import { PhotoDto } from './photo.dto.js'
import { PhotosService } from './photos.service.js'

@ApiTags('photos')
@Controller('api/photos')
export class PhotosController {
  constructor(private readonly service: PhotosService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: PhotoDto): Promise<PhotoRecord> {
    return this.service.write(id, key, dto)
  }

  @Get(':id/picture')
  async picture(@Param('id') id: string): Promise<StreamableFile> {
    const { bytes, mime } = await this.service.picture(id)
    return new StreamableFile(bytes, { type: mime })
  }
}
