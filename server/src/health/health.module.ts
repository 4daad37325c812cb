import { Module } from '@nestjs/common'
import { HealthController } from './health.controller.js'
import { HealthService } from './health.service.js'

/** Whether the server is well. */
@Module({
  controllers: [HealthController],
  providers: [HealthService],
})
export class HealthModule {}
