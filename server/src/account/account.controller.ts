import type { Viewer } from '@gavrin/core'
import { Body, Controller, HttpCode, Post, Put, Req, Res } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsString, MaxLength, MinLength } from 'class-validator'
import type { Request, Response } from 'express'
import { Asking, OpenToAll } from '../access/viewer.js'
import { AccountService } from './account.service.js'
import { deviceOf, markDevice } from './knownDevices.js'
import { beginSession } from './sessions.js'
import { SignInService } from './signIn.service.js'

class ForgottenDto {
  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Type your e-mail address.' })
  @MaxLength(254, { message: 'This is too long for an e-mail address.' })
  email: string
}

class LinkDto {
  @ApiProperty() @IsString() @MaxLength(200) token: string
}

class PasswordByLinkDto extends LinkDto {
  @ApiProperty() @IsString() @MaxLength(1000, { message: 'This is too long for a password.' }) password: string
}

class ChangePasswordDto {
  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Type the password you have now.' })
  @MaxLength(1000)
  current: string

  @ApiProperty() @IsString() @MaxLength(1000, { message: 'This is too long for a password.' }) password: string
}

@ApiTags('account')
@Controller('account')
export class AccountController {
  constructor(
    private readonly accounts: AccountService,
    private readonly signIns: SignInService,
  ) {}

  /** Asks for a link for a new password by mail. */
  @OpenToAll()
  @Post('forgotten')
  @HttpCode(204)
  forgotten(@Body() { email }: ForgottenDto, @Req() request: Request): Promise<void> {
    return this.accounts.forgotten(email, request.ip ?? '')
  }

  /** Whose password a link sets. The token is in the body, so that no log of addresses ever holds it. */
  @OpenToAll()
  @Post('link')
  @HttpCode(200)
  link(@Body() { token }: LinkDto, @Req() request: Request) {
    return this.accounts.holderOf(token, request.ip ?? '')
  }

  /** Sets the password and signs in. */
  @OpenToAll()
  @Post('password-by-link')
  @HttpCode(204)
  async setByLink(
    @Body() { token, password }: PasswordByLinkDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    const viewer = await this.accounts.setByLink(token, password)
    await this.signIns.remember(viewer, deviceOf(request) ?? markDevice(request, response), request.ip ?? '')
    await beginSession(request, viewer)
  }

  @Put('password')
  @HttpCode(204)
  change(
    @Asking() viewer: Viewer,
    @Body() { current, password }: ChangePasswordDto,
    @Req() request: Request,
  ): Promise<void> {
    return this.accounts.change(viewer, current, password, request.session.id)
  }
}
