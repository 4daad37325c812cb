import { Module } from '@nestjs/common'
import { HealthController } from './health.controller.js'

/** Whether the server is well. */
@Module({
  controllers: [HealthController],
})
export class HealthModule {}
