import { type DynamicModule, Module } from '@nestjs/common'
import { APP_FILTER, APP_GUARD } from '@nestjs/core'
import { TypeOrmModule } from '@nestjs/typeorm'
import { AccountController } from './account/account.controller.js'
import { AccountService } from './account/account.service.js'
import { SessionController } from './account/session.controller.js'
import type { Sessions } from './account/sessions.js'
import { SignInService } from './account/signIn.service.js'
import { BoardController } from './board/board.controller.js'
import { ProblemFilter } from './common/problemDetails.js'
import { SESSIONS, SETTINGS } from './common/tokens.js'
import { SignedInGuard } from './access/viewer.js'
import { CopyController } from './copy/copy.controller.js'
import { CopyService } from './copy/copy.service.js'
import { dataSourceOptions } from './database/dataSource.js'
import { Events } from './events/events.js'
import { DocLoader } from './kept/docLoader.js'
import { Pens } from './kept/pens.js'
import { FileController } from './file/file.controller.js'
import { FileTasks } from './file/fileTasks.js'
import { FindController } from './find/find.controller.js'
import { GroupController } from './group/group.controller.js'
import { GroupService } from './group/group.service.js'
import { SignUpService } from './group/signUp.service.js'
import { HandoutController } from './handout/handout.controller.js'
import { DeskService } from './handout/desk.service.js'
import { HandOutRuns } from './handout/handOutRuns.js'
import { HandoutService } from './handout/handout.service.js'
import { RecipeService } from './handout/recipe.service.js'
import { ShelfService } from './handout/shelf.service.js'
import { WalkInService } from './handout/walkIn.service.js'
import { HealthController } from './health/health.controller.js'
import { JoinController } from './join/join.controller.js'
import { JoinService } from './join/join.service.js'
import { LiveGateway } from './live/live.gateway.js'
import { CoverNotes } from './mail/coverNotes.service.js'
import { MailController } from './mail/mail.controller.js'
import { MailService } from './mail/mail.service.js'
import { MailroomService } from './mail/mailroom.service.js'
import { MessageQueue } from './mail/messageQueue.js'
import { OfficeService } from './people/office.service.js'
import { PeopleController } from './people/people.controller.js'
import { PeopleService } from './people/people.service.js'
import { ClassController } from './roster/class.controller.js'
import { ClassService } from './roster/class.service.js'
import { ColumnService } from './roster/column.service.js'
import { RosterController } from './roster/roster.controller.js'
import { RosterService } from './roster/roster.service.js'
import { RosterOutService } from './roster/rosterOut.service.js'
import { StaffService } from './roster/staff.service.js'
import type { Settings } from './common/settings.js'
import { BringInController } from './bringIn/bringIn.controller.js'
import { BringInService } from './bringIn/bringIn.service.js'
import { LibraryController } from './worksheet/library.controller.js'
import { LibraryService } from './worksheet/library.service.js'
import { WorksheetController } from './worksheet/worksheet.controller.js'
import { WorksheetService } from './worksheet/worksheet.service.js'
import { WorksheetOutService } from './worksheet/worksheetOut.service.js'

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
        AccountController,
        ClassController,
        RosterController,
        JoinController,
        GroupController,
        PeopleController,
        FindController,
        FileController,
        MailController,
        LibraryController,
        WorksheetController,
        BringInController,
        HandoutController,
        CopyController,
        BoardController,
      ],
      providers: [
        { provide: SETTINGS, useValue: settings },
        { provide: SESSIONS, useValue: sessions },
        { provide: APP_FILTER, useClass: ProblemFilter },
        { provide: APP_GUARD, useClass: SignedInGuard },
        Events,
        Pens,
        DocLoader,
        SignInService,
        AccountService,
        MessageQueue,
        MailService,
        CoverNotes,
        MailroomService,
        FileTasks,
        ClassService,
        StaffService,
        RosterService,
        ColumnService,
        RosterOutService,
        JoinService,
        GroupService,
        SignUpService,
        PeopleService,
        OfficeService,
        WorksheetService,
        LibraryService,
        WorksheetOutService,
        BringInService,
        HandoutService,
        HandOutRuns,
        WalkInService,
        RecipeService,
        ShelfService,
        DeskService,
        CopyService,
        LiveGateway,
      ],
    }
  }
}
