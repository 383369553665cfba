import { Module } from '@nestjs/common'
import { UploadsController } from './uploads.controller.js'
import { UploadsService } from './uploads.service.js'

@Module({ controllers: [UploadsController], providers: [UploadsService], exports: [UploadsService] })
export class UploadsModule {}
