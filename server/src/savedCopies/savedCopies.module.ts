import { Module } from '@nestjs/common'
import { CopyModule } from '../copy/copy.module.js'
import { SavedCopiesController } from './savedCopies.controller.js'
import { SavedCopiesService } from './savedCopies.service.js'

/** Many copies as documents, in one file. */
@Module({
  imports: [CopyModule],
  controllers: [SavedCopiesController],
  providers: [SavedCopiesService],
})
export class SavedCopiesModule {}
