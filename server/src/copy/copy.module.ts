import { Module } from '@nestjs/common'
import { KeptModule } from '../kept/kept.module.js'
import { WorksheetModule } from '../worksheet/worksheet.module.js'
import { CopyController } from './copy.controller.js'
import { CopyOutService } from './copyOut.service.js'
import { CopyService } from './copy.service.js'
import { DocumentsController } from './documents.controller.js'
import { DocumentsService } from './documents.service.js'
import { SubmittedForThemController } from './submittedForThem.controller.js'

/** Copies as their holders and readers have them. */
@Module({
  imports: [KeptModule, WorksheetModule],
  controllers: [CopyController, DocumentsController, SubmittedForThemController],
  providers: [CopyService, CopyOutService, DocumentsService],
  exports: [CopyOutService],
})
export class CopyModule {}
