import { Module } from '@nestjs/common'
import { RecordingsController } from './recordings.controller.js'
import { UploadsModule } from '../uploads/uploads.module.js'
import { RecordingsService } from './recordings.service.js'

@Module({
  imports: [UploadsModule],
  controllers: [RecordingsController],
  providers: [RecordingsService],
})
export class RecordingsModule {}
