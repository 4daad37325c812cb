import { Module } from '@nestjs/common'
import { KeptModule } from '../kept/kept.module.js'
import { LiveGateway } from './live.gateway.js'

/** Live connections. */
@Module({
  imports: [KeptModule],
  providers: [LiveGateway],
})
export class LiveModule {}
