import { type DynamicModule, Module } from '@nestjs/common'
import { APP_FILTER, APP_GUARD } from '@nestjs/core'
import { TypeOrmModule } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { SignedInGuard } from './access/viewer.js'
import type { Sessions } from './account/sessions.js'
import { AccountModule } from './account/account.module.js'
import { BoardModule } from './board/board.module.js'
import { BringInModule } from './bringIn/bringIn.module.js'
import { CalendarModule } from './calendar/calendar.module.js'
import { CommentModule } from './comment/comment.module.js'
import { CopyModule } from './copy/copy.module.js'
import { ListModule } from './list/list.module.js'
import { FindModule } from './find/find.module.js'
import { GroupModule } from './group/group.module.js'
import { HandoutModule } from './handout/handout.module.js'
import { HistoryModule } from './history/history.module.js'
import { HealthModule } from './health/health.module.js'
import { JoinModule } from './join/join.module.js'
import { LiveModule } from './live/live.module.js'
import { MarkingModule } from './marking/marking.module.js'
import { MailModule } from './mail/mail.module.js'
import { PensModule } from './pens/pens.module.js'
import { PeopleModule } from './people/people.module.js'
import { AutomationModule } from './automation/automation.module.js'
import { LikenessModule } from './likeness/likeness.module.js'
import { ReminderModule } from './reminder/reminder.module.js'
import { SavedCopiesModule } from './savedCopies/savedCopies.module.js'
import { RosterModule } from './roster/roster.module.js'
import { RosterOutModule } from './rosterOut/rosterOut.module.js'
import { ToKeepModule } from './toKeep/toKeep.module.js'
import { WorksheetModule } from './worksheet/worksheet.module.js'
import { GroundModule } from './common/ground.module.js'
import { ProblemFilter } from './common/problemDetails.js'
import type { Settings } from './common/settings.js'
import { DEMO_PEOPLE, SESSIONS, SETTINGS } from './common/tokens.js'
import { dataSourceOptions } from './database/dataSource.js'
import { demoPeople } from './demo/people.js'
import { ENTITIES } from './entities.js'
import { Events } from './events/events.js'

@Module({})
export class AppModule {
  static with(settings: Settings, sessions: Sessions): DynamicModule {
    return {
      module: AppModule,
      imports: [
        TypeOrmModule.forRoot({
          ...dataSourceOptions(settings.databaseUrl, settings.poolSize),
          entities: ENTITIES,
          retryAttempts: 30,
          retryDelay: 1_000,
        }),
        GroundModule.with([
          { provide: SETTINGS, useValue: settings },
          { provide: SESSIONS, useValue: sessions },
          { provide: Events, useClass: Events },
          {
            provide: DEMO_PEOPLE,
            inject: [DataSource],
            useFactory: (source: DataSource) => (settings.demo ? () => demoPeople(source) : null),
          },
        ]),
        AccountModule,
        ListModule,
        RosterModule,
        WorksheetModule,
        GroupModule,
        JoinModule,
        PeopleModule,
        BringInModule,
        RosterOutModule,
        MailModule,
        HandoutModule,
        CommentModule,
        CalendarModule,
        CopyModule,
        HistoryModule,
        MarkingModule,
        PensModule,
        AutomationModule,
        LikenessModule,
        ReminderModule,
        SavedCopiesModule,
        ToKeepModule,
        LiveModule,
        BoardModule,
        FindModule,
        HealthModule,
      ],
      providers: [
        { provide: APP_FILTER, useClass: ProblemFilter },
        { provide: APP_GUARD, useClass: SignedInGuard },
      ],
    }
  }
}
