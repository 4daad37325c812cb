import { type DynamicModule, Module } from '@nestjs/common'
import { APP_FILTER, APP_GUARD } from '@nestjs/core'
import { TypeOrmModule } from '@nestjs/typeorm'
import { SessionController } from './account/session.controller.js'
import type { Sessions } from './account/sessions.js'
import { SignInService } from './account/signIn.service.js'
import { BoardController } from './board/board.controller.js'
import { ProblemFilter } from './common/problemDetails.js'
import { SESSIONS, SETTINGS } from './common/tokens.js'
import { SignedInGuard } from './common/viewer.js'
import { CopyController } from './copy/copy.controller.js'
import { CopyService } from './copy/copy.service.js'
import { dataSourceOptions } from './database/dataSource.js'
import { HandoutController } from './handout/handout.controller.js'
import { HandoutService } from './handout/handout.service.js'
import { HealthController } from './health/health.controller.js'
import { LiveGateway } from './live/live.gateway.js'
import { RosterController } from './roster/roster.controller.js'
import { RosterService } from './roster/roster.service.js'
import type { Settings } from './settings.js'
import { WorksheetController } from './worksheet/worksheet.controller.js'
import { WorksheetService } from './worksheet/worksheet.service.js'

@Module({})
export class AppModule {
  static with(settings: Settings, sessions: Sessions): DynamicModule {
    return {
      module: AppModule,
      imports: [
        TypeOrmModule.forRoot({
          ...dataSourceOptions(settings.databaseUrl, settings.poolSize),
          retryAttempts: 30,
          retryDelay: 1_000,
        }),
      ],
      controllers: [
        HealthController,
        SessionController,
        RosterController,
        WorksheetController,
        HandoutController,
        CopyController,
        BoardController,
      ],
      providers: [
        { provide: SETTINGS, useValue: settings },
        { provide: SESSIONS, useValue: sessions },
        { provide: APP_FILTER, useClass: ProblemFilter },
        { provide: APP_GUARD, useClass: SignedInGuard },
        SignInService,
        RosterService,
        WorksheetService,
        HandoutService,
        CopyService,
        LiveGateway,
      ],
    }
  }
}
