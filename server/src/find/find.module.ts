import { Module } from '@nestjs/common'
import { HandoutModule } from '../handout/handout.module.js'
import { PeopleModule } from '../people/people.module.js'
import { WorksheetModule } from '../worksheet/worksheet.module.js'
import { FindController } from './find.controller.js'

/** Finding anything by its name. */
@Module({
  imports: [HandoutModule, PeopleModule, WorksheetModule],
  controllers: [FindController],
})
export class FindModule {}
