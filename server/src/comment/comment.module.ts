import { Module } from '@nestjs/common'
import { CommentController } from './comment.controller.js'
import { CommentService } from './comment.service.js'

/** Comments and questions beside what is written in copies. */
@Module({
  controllers: [CommentController],
  providers: [CommentService],
  exports: [CommentService],
})
export class CommentModule {}
