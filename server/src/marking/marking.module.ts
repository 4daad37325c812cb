import { Module } from '@nestjs/common'
import { CommentModule } from '../comment/comment.module.js'
import { KeptModule } from '../kept/kept.module.js'
import { MailModule } from '../mail/mail.module.js'
import { RosterOutModule } from '../rosterOut/rosterOut.module.js'
import { TasksModule } from '../tasks/tasks.module.js'
import { HandBackService } from './handBack.service.js'
import { LibraryController } from './library.controller.js'
import { LibraryService } from './library.service.js'
import { MarkBookController } from './markBook.controller.js'
import { MarkBookService } from './markBook.service.js'
import { MarkingController } from './marking.controller.js'
import { MarkingService } from './marking.service.js'
import { PenService } from './pen.service.js'
import { StockRemarksService } from './stockRemarks.service.js'

/** Marking, handing back, mark books. */
@Module({
  imports: [CommentModule, KeptModule, MailModule, RosterOutModule, TasksModule],
  controllers: [MarkingController, MarkBookController, LibraryController],
  providers: [MarkingService, HandBackService, PenService, StockRemarksService, MarkBookService, LibraryService],
})
export class MarkingModule {}
