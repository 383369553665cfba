import { Module } from '@nestjs/common'
import { OpenedRecordings } from './opened.js'
import { RecordingsController } from './recordings.controller.js'
import { RecordingsService } from './recordings.service.js'

@Module({ controllers: [RecordingsController], providers: [RecordingsService, OpenedRecordings] })
export class RecordingsModule {}
