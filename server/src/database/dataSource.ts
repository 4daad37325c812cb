import { DataSource, type DataSourceOptions } from 'typeorm'
import { prepareJobs } from './jobs.js'
import { FirstLight1764000000000 } from './migrations/1764000000000-FirstLight.js'
import { RosterForYears1764100000000 } from './migrations/1764100000000-RosterForYears.js'
import { WorksheetLibrary1764200000000 } from './migrations/1764200000000-WorksheetLibrary.js'
import { HandoutsMendable1764300000000 } from './migrations/1764300000000-HandoutsMendable.js'
import { ReservedSections1764400000000 } from './migrations/1764400000000-ReservedSections.js'
import { WithdrawnNotes1764500000000 } from './migrations/1764500000000-WithdrawnNotes.js'
import { LateDocuments1764600000000 } from './migrations/1764600000000-LateDocuments.js'
import { ClassLooks1764700000000 } from './migrations/1764700000000-ClassLooks.js'
import { Strangers1764800000000 } from './migrations/1764800000000-Strangers.js'
import { PeopleFound1764900000000 } from './migrations/1764900000000-PeopleFound.js'
import { PhotoWork1765000000000 } from './migrations/1765000000000-PhotoWork.js'
import { DifferentGroups1765100000000 } from './migrations/1765100000000-DifferentGroups.js'
import { KeysForAll1765200000000 } from './migrations/1765200000000-KeysForAll.js'
import { Comments1765300000000 } from './migrations/1765300000000-Comments.js'
import { Calendars1765500000000 } from './migrations/1765500000000-Calendars.js'
import { GuestsMatched1765600000000 } from './migrations/1765600000000-GuestsMatched.js'
import { PeerReading1765700000000 } from './migrations/1765700000000-PeerReading.js'
import { OwnCopies1765800000000 } from './migrations/1765800000000-OwnCopies.js'
import { Mentions1765900000000 } from './migrations/1765900000000-Mentions.js'
import { ClassRules1766000000000 } from './migrations/1766000000000-ClassRules.js'
import { CopyDocuments1766100000000 } from './migrations/1766100000000-CopyDocuments.js'
import { Board1766200000000 } from './migrations/1766200000000-Board.js'
import { Reminders1766300000000 } from './migrations/1766300000000-Reminders.js'
import { Automation1766600000000 } from './migrations/1766600000000-Automation.js'
import { Marking1766700000000 } from './migrations/1766700000000-Marking.js'
import { MarkingLibrary1766800000000 } from './migrations/1766800000000-MarkingLibrary.js'
import { HelpersMark1766900000000 } from './migrations/1766900000000-HelpersMark.js'
import { AcceptedAnswers1767000000000 } from './migrations/1767000000000-AcceptedAnswers.js'
import { StudentNotes1767100000000 } from './migrations/1767100000000-StudentNotes.js'
import { GivenToKeep1767200000000 } from './migrations/1767200000000-GivenToKeep.js'
import { PenMarks1767400000000 } from './migrations/1767400000000-PenMarks.js'
import { SecondReadings1767300000000 } from './migrations/1767300000000-SecondReadings.js'
import { Letters1766500000000 } from './migrations/1766500000000-Letters.js'
import { SavedCopies1766400000000 } from './migrations/1766400000000-SavedCopies.js'
import { LateDecided1765400000000 } from './migrations/1765400000000-LateDecided.js'

/** Entities come from whoever asks for them: here is below all that has tables. */
export function dataSourceOptions(url: string, poolSize: number): DataSourceOptions {
  return {
    type: 'postgres',
    url,
    migrations: [
      FirstLight1764000000000,
      RosterForYears1764100000000,
      WorksheetLibrary1764200000000,
      HandoutsMendable1764300000000,
      ReservedSections1764400000000,
      WithdrawnNotes1764500000000,
      LateDocuments1764600000000,
      ClassLooks1764700000000,
      Strangers1764800000000,
      PeopleFound1764900000000,
      PhotoWork1765000000000,
      DifferentGroups1765100000000,
      KeysForAll1765200000000,
      Comments1765300000000,
      LateDecided1765400000000,
      Calendars1765500000000,
      GuestsMatched1765600000000,
      PeerReading1765700000000,
      OwnCopies1765800000000,
      Mentions1765900000000,
      ClassRules1766000000000,
      CopyDocuments1766100000000,
      Board1766200000000,
      Reminders1766300000000,
      SavedCopies1766400000000,
      Letters1766500000000,
      Automation1766600000000,
      Marking1766700000000,
      MarkingLibrary1766800000000,
      HelpersMark1766900000000,
      AcceptedAnswers1767000000000,
      StudentNotes1767100000000,
      GivenToKeep1767200000000,
      SecondReadings1767300000000,
      PenMarks1767400000000,
    ],
    synchronize: false,
    // PostgreSQL makes ids by itself.
    uuidExtension: 'pgcrypto',
    installExtensions: false,
    migrationsTransactionMode: 'all',
    poolSize,
    // A database that is away is said to be away before the browser gives up; one that is asked much is waited for.
    extra: {
      connectionTimeoutMillis: 10_000,
      statement_timeout: 30_000,
      idle_in_transaction_session_timeout: 60_000,
      // No query here runs for seconds: to compile one costs more than it saves, by a tenth of a second where much is looked up.
      options: '-c jit=off',
    },
    poolErrorHandler: () => undefined,
  }
}

/** Brings a database to the newest form; safe to run from several processes at once. */
export async function migrate(url: string): Promise<string[]> {
  const source = await new DataSource(dataSourceOptions(url, 1)).initialize()
  try {
    await source.query('SELECT pg_advisory_lock(7341001)')
    const done = (await source.runMigrations()).map(({ name }) => name)
    await prepareJobs(url)
    return done
  } finally {
    await source.destroy()
  }
}
