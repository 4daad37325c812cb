import { Module } from '@nestjs/common'
import { KeptModule } from '../kept/kept.module.js'
import { HistoryController } from './history.controller.js'
import { HistoryService } from './history.service.js'

/** How copies came to be what they are. */
@Module({
  imports: [KeptModule],
  controllers: [HistoryController],
  providers: [HistoryService],
})
export class HistoryModule {}
