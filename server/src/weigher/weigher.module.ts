import { Global, Module } from '@nestjs/common'
import { Weigher } from './weigher.js'

@Global()
@Module({ providers: [Weigher], exports: [Weigher] })
export class WeigherModule {}
