import { Module } from '@nestjs/common'
import { TogetherController } from './together.controller.js'
import { TogetherService } from './together.service.js'

@Module({ controllers: [TogetherController], providers: [TogetherService] })
export class TogetherModule {}
