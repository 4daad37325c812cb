import { SCOPES, type Scope, type Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Transform, Type } from 'class-transformer'
import { ArrayMaxSize, IsArray, IsIn, IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { FEED_KIND_NAMES, type FeedKind } from './feedKinds.js'
import { FEED_LIMITS, FeedService } from './feed.service.js'
import { TOKEN_LIMITS, TokensService } from './tokens.service.js'
import { WebhooksService } from './webhooks.service.js'

class TokenDto {
  /** What it is for. */
  @ApiProperty()
  @IsString()
  @MaxLength(TOKEN_LIMITS.name, { message: `A name has up to ${TOKEN_LIMITS.name} characters.` })
  name: string
  @ApiProperty({ enum: SCOPES, isArray: true })
  @IsArray()
  @ArrayMaxSize(SCOPES.length)
  @IsIn(SCOPES, { each: true })
  scopes: Scope[]
  /** After how many days it ends. */
  @ApiProperty() @IsInt() @Min(1) @Max(TOKEN_LIMITS.days) days: number
}

class WebhookDto {
  @ApiProperty() @IsString() @MaxLength(1_000, { message: 'An address has up to 1,000 characters.' }) address: string
  @ApiProperty({ enum: FEED_KIND_NAMES, isArray: true })
  @IsArray()
  @ArrayMaxSize(FEED_KIND_NAMES.length)
  @IsIn(FEED_KIND_NAMES, { each: true })
  kinds: FeedKind[]
}

class EventsDto {
  /** The `next` of the answer before; left out: from the beginning. */
  @ApiProperty({ required: false }) @IsOptional() @Type(() => Number) @IsInt() @Min(0) after?: number
  @ApiProperty({ required: false })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(FEED_LIMITS.page)
  most?: number
  /** Only these, parted by commas; left out: all. */
  @ApiProperty({ required: false, type: String })
  @IsOptional()
  @Transform(({ value }): unknown => (typeof value === 'string' ? value.split(',') : value))
  @IsArray()
  @ArrayMaxSize(FEED_KIND_NAMES.length)
  @IsIn(FEED_KIND_NAMES, { each: true })
  kinds?: FeedKind[]
}

@ApiTags('automation')
@Controller()
export class AutomationController {
  constructor(
    private readonly tokens: TokensService,
    private readonly webhooks: WebhooksService,
    private readonly feed: FeedService,
  ) {}

  /** What happened in one's classes after an event: read on from `next`. */
  @Get('events')
  events(@Asking() viewer: Viewer, @Query() { after = 0, most = FEED_LIMITS.page, kinds }: EventsDto) {
    return this.feed.events(viewer, { after, most, kinds: kinds ?? null })
  }

  @Get('tokens')
  allTokens(@Asking() viewer: Viewer) {
    return this.tokens.all(viewer)
  }

  /** Makes a token; it is told this once. */
  @Post('tokens')
  makeToken(@Asking() viewer: Viewer, @Body() input: TokenDto) {
    return this.tokens.make(viewer, input)
  }

  @Delete('tokens/:tokenId')
  @HttpCode(204)
  takeTokenBack(@Asking() viewer: Viewer, @Param('tokenId', ParseUUIDPipe) tokenId: string) {
    return this.tokens.takeBack(viewer, tokenId)
  }

  @Get('webhooks')
  allWebhooks(@Asking() viewer: Viewer) {
    return this.webhooks.all(viewer)
  }

  /** Adds an address that is told what happens; the secret with which that is signed is told this once. */
  @Post('webhooks')
  addWebhook(@Asking() viewer: Viewer, @Body() { address, kinds }: WebhookDto) {
    return this.webhooks.add(viewer, address, kinds)
  }

  /** Tries again now. */
  @Post('webhooks/:webhookId/again')
  @HttpCode(204)
  tryAgain(@Asking() viewer: Viewer, @Param('webhookId', ParseUUIDPipe) webhookId: string) {
    return this.webhooks.tryAgain(viewer, webhookId)
  }

  @Delete('webhooks/:webhookId')
  @HttpCode(204)
  removeWebhook(@Asking() viewer: Viewer, @Param('webhookId', ParseUUIDPipe) webhookId: string) {
    return this.webhooks.remove(viewer, webhookId)
  }
}
