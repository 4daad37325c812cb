import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { answers } from '../database/inSchool.js'

@Injectable()
export class HealthService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Resolves when the database answers. */
  async databaseAnswers(): Promise<void> {
    await answers(this.source)
  }
}
