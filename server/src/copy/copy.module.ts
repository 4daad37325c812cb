import { Module } from '@nestjs/common'
import { KeptModule } from '../kept/kept.module.js'
import { CopyController } from './copy.controller.js'
import { CopyService } from './copy.service.js'

/** Copies as their holders and readers have them. */
@Module({
  imports: [KeptModule],
  controllers: [CopyController],
  providers: [CopyService],
})
export class CopyModule {}
