import { Global, Module } from '@nestjs/common'
import { Outcomes } from './outcomes.js'
import { Restarter } from './restarter.js'
import { ShopController } from './shop.controller.js'
import { ShopService } from './shop.service.js'

@Global()
@Module({
  controllers: [ShopController],
  providers: [ShopService, Restarter, Outcomes],
  exports: [ShopService, Restarter],
})
export class ShopModule {}
