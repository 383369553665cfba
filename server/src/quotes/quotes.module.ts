import { Module } from '@nestjs/common'
import { QuotesController } from './quotes.controller.js'
import { QuotesService } from './quotes.service.js'

@Module({ controllers: [QuotesController], providers: [QuotesService] })
export class QuotesModule {}
