import { Module } from '@nestjs/common'
import { KeptModule } from '../kept/kept.module.js'
import { ExtraTimeService } from './extraTime.service.js'
import { PensController } from './pens.controller.js'
import { PensService } from './pens.service.js'

/** Pens down and up, and extra time. */
@Module({
  imports: [KeptModule],
  controllers: [PensController],
  providers: [PensService, ExtraTimeService],
})
export class PensModule {}
