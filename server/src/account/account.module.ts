import { Module } from '@nestjs/common'
import { MailModule } from '../mail/mail.module.js'
import { AccountController } from './account.controller.js'
import { AccountService } from './account.service.js'
import { SessionController } from './session.controller.js'
import { SignInService } from './signIn.service.js'

/** Signing in, passwords, sign-in cards. */
@Module({
  imports: [MailModule],
  controllers: [SessionController, AccountController],
  providers: [SignInService, AccountService],
  exports: [AccountService],
})
export class AccountModule {}
