import { Module } from '@nestjs/common'
import { LinkController } from './link.controller.js'
import { LinkService } from './link.service.js'

@Module({ controllers: [LinkController], providers: [LinkService] })
export class LinkModule {}
