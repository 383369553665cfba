import { Global, Module } from '@nestjs/common'
import { HangUp } from './hang-up.js'
import { Outcomes } from './outcomes.js'
import { Restarter } from './restarter.js'
import { ShopController } from './shop.controller.js'
import { ShopService } from './shop.service.js'

@Global()
@Module({
  controllers: [ShopController],
  providers: [ShopService, Restarter, HangUp, Outcomes],
  exports: [ShopService, Restarter],
})
export class ShopModule {}
