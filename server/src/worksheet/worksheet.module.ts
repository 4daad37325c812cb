import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { LibraryController } from './library.controller.js'
import { LibraryService } from './library.service.js'
import { WorksheetController } from './worksheet.controller.js'
import { WorksheetService } from './worksheet.service.js'
import { WorksheetOutService } from './worksheetOut.service.js'

/** The library: worksheets, their drafts and editions, and worksheets as files. */
@Module({
  imports: [TasksModule],
  controllers: [LibraryController, WorksheetController],
  providers: [WorksheetService, LibraryService, WorksheetOutService],
  exports: [WorksheetService, LibraryService, WorksheetOutService],
})
export class WorksheetModule {}
