import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsString, MaxLength, MinLength } from 'class-validator'
import type { Request, Response } from 'express'
import { Asking, OpenToAll } from '../access/viewer.js'
import { DEMO_PEOPLE, type DemoPeople, type FindDemoPeople } from '../common/tokens.js'
import { Events } from '../events/events.js'
import { deviceOf, markDevice } from './knownDevices.js'
import { SESSION_COOKIE, beginSession, endSession } from './sessions.js'
import { SignInService } from './signIn.service.js'
import type { PersonSignedIn } from './account.queries.js'

class SignInDto {
  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Type your e-mail address.' })
  @MaxLength(254, { message: 'This is too long for an e-mail address.' })
  /** Or the name on a sign-in card. */
  email: string

  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Type your password.' })
  @MaxLength(1000, { message: 'This is too long for a password.' })
  password: string
}

@ApiTags('account')
@Controller('session')
export class SessionController {
  constructor(
    private readonly signIns: SignInService,
    private readonly events: Events,
    @Inject(DEMO_PEOPLE) private readonly demoPeople: FindDemoPeople,
  ) {}

  /** Who is signed in, and in demo mode the people one may try it as. */
  @OpenToAll()
  @Get()
  async current(@Asking() viewer: Viewer | undefined): Promise<{ person: PersonSignedIn | null; demo?: DemoPeople }> {
    if (!viewer) return { person: null, ...(this.demoPeople && { demo: await this.demoPeople() }) }
    return { person: (await this.signIns.personOf(viewer)) ?? null }
  }

  @OpenToAll()
  @Post()
  @HttpCode(204)
  async signIn(
    @Body() { email, password }: SignInDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    const address = request.ip ?? ''
    const device = deviceOf(request)
    const viewer = await this.signIns.signIn(email, password, { address, device })
    await this.signIns.remember(viewer, device ?? markDevice(request, response), address)
    await beginSession(request, viewer)
  }

  @OpenToAll()
  @Delete()
  @HttpCode(204)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    const { id } = request.session
    await endSession(request)
    // Only now: a browser whose connection ends asks at once whether it is still signed in.
    await this.events.tell('session ended', { sessionId: id })
    response.clearCookie(SESSION_COOKIE, { path: '/' })
  }
}
