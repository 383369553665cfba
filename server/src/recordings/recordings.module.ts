import { Module } from '@nestjs/common'
import { RecordingsController } from './recordings.controller.js'
import { RecordingsService } from './recordings.service.js'

@Module({ controllers: [RecordingsController], providers: [RecordingsService] })
export class RecordingsModule {}
