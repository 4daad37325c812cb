import { Controller, Get } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { OpenToAll } from '../access/viewer.js'

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** That the server runs and the database answers; 503 problem details if it does not. */
  @OpenToAll()
  @Get()
  async health(): Promise<{ status: 'well' }> {
    await this.source.query('SELECT 1')
    return { status: 'well' }
  }
}
