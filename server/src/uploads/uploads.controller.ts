import { Controller, Get, Param, Put, Query, Req } from '@nestjs/common'
import { ApiOkResponse, ApiTags } from '@nestjs/swagger'
import type { UploadState } from '@uvula/contract'
import type { Request } from 'express'
import { UploadsService } from './uploads.service.js'

@ApiTags('uploads')
@Controller('api/uploads')
export class UploadsController {
  constructor(private readonly service: UploadsService) {}

  /** How much of a file is here: from there it goes on. */
  @Get(':key')
  @ApiOkResponse({ description: 'bytes that are here' })
  state(@Param('key') key: string): Promise<UploadState> {
    return this.service.state(key)
  }

  /** The next piece of a file, as it is. */
  @Put(':key')
  @ApiOkResponse({ description: 'bytes that are here then' })
  add(@Param('key') key: string, @Query('at') at: string, @Req() request: Request): Promise<UploadState> {
    return this.service.add(key, Number(at), request.body)
  }
}
