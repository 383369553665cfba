import { Global, Module } from '@nestjs/common'
import { Restarter } from './restarter.js'
import { ShopController } from './shop.controller.js'
import { ShopService } from './shop.service.js'

@Global()
@Module({ controllers: [ShopController], providers: [ShopService, Restarter], exports: [ShopService] })
export class ShopModule {}
