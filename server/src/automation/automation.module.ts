import { Module } from '@nestjs/common'
import { AutomationController } from './automation.controller.js'
import { FeedService } from './feed.service.js'
import { TokensService } from './tokens.service.js'
import { WebhooksService } from './webhooks.service.js'

/** Programs of one's own: tokens, the feed of what happens, and addresses that are told of it. */
@Module({
  controllers: [AutomationController],
  providers: [FeedService, TokensService, WebhooksService],
})
export class AutomationModule {}
