import { Controller, Get } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { OpenToAll } from '../access/viewer.js'
import { HealthService } from './health.service.js'

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(private readonly of: HealthService) {}

  /** That the server runs and the database answers; 503 problem details if it does not. */
  @OpenToAll()
  @Get()
  async health(): Promise<{ status: 'well' }> {
    await this.of.databaseAnswers()
    return { status: 'well' }
  }
}
