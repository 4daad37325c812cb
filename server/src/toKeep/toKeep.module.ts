import { Module } from '@nestjs/common'
import { ToKeepController } from './toKeep.controller.js'
import { ToKeepService } from './toKeep.service.js'

/** Copies that become their holders' own. */
@Module({
  controllers: [ToKeepController],
  providers: [ToKeepService],
})
export class ToKeepModule {}
