import { createReadStream, createWriteStream } from 'node:fs'
import { copyFile, rm } from 'node:fs/promises'
import { pipeline } from 'node:stream/promises'
import { Body, Controller, Get, HttpCode, Post, Put, Req, Res } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { BackupHead, Backups } from '@uvula/contract'
import type { Request, Response } from 'express'
import { Needs } from '../access/access.guard.js'
import { badField } from '../records/problem.js'
import { BackupDto, RestoreDto } from './backup.dto.js'
import { BackupService } from './backup.service.js'

@ApiTags('backup')
@Controller('api/shop')
@Needs('owner')
export class BackupController {
  constructor(private readonly service: BackupService) {}

  @Get('backups')
  list(): Promise<Backups> {
    return this.service.list()
  }

  /** Chooses the folder of the nightly backup and how many are kept. */
  @Put('backups')
  choose(@Body() dto: BackupDto): Promise<Backups> {
    return this.service.choose(dto.folder.trim(), dto.keep)
  }

  /** Makes one now in that folder. */
  @Post('backups')
  @HttpCode(200)
  make(): Promise<Backups> {
    return this.service.makeNow()
  }

  /** Makes one and hands it out as a file. */
  @Get('backup')
  async take(@Res() res: Response): Promise<void> {
    const { path, name, remove } = await this.service.toTake()
    try {
      res.set({
        'Content-Type': 'application/octet-stream',
        'Content-Disposition': `attachment; filename="${name}"`,
        'Cache-Control': 'no-store',
      })
      await pipeline(createReadStream(path), res)
    } finally {
      await remove()
    }
  }

  /** Restores an uploaded backup as the shop's own file; the server is back within a few seconds. */
  @Post('restore')
  @HttpCode(202)
  async restore(@Req() req: Request): Promise<BackupHead> {
    if (!req.is('application/octet-stream'))
      throw badField('content', req.headers['content-type'], 'a backup as a file')
    const path = this.service.incoming()
    try {
      await pipeline(req, createWriteStream(path))
    } catch (e) {
      // broken off on its way
      await rm(path, { force: true })
      throw e
    }
    return this.service.restore(path)
  }

  /** The same of one that lies in the chosen folder. */
  @Post('restore-listed')
  @HttpCode(202)
  async restoreListed(@Body() dto: RestoreDto): Promise<BackupHead> {
    const path = this.service.incoming()
    await copyFile(await this.service.listed(dto.name), path)
    return this.service.restore(path)
  }
}
