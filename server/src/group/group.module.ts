import { Module } from '@nestjs/common'
import { GroupController } from './group.controller.js'
import { GroupService } from './group.service.js'
import { SignUpService } from './signUp.service.js'

/** Group sets, and students who sign up for groups. */
@Module({
  controllers: [GroupController],
  providers: [GroupService, SignUpService],
})
export class GroupModule {}
