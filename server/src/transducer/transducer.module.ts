import { Module } from '@nestjs/common'
import { TransducerController } from './transducer.controller.js'
import { TransducerService } from './transducer.service.js'

@Module({ controllers: [TransducerController], providers: [TransducerService] })
export class TransducerModule {}
