import { cleanText, emailKey, isEmail } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { newAccountLink } from './mail/accountLinks.js'
import { dataSourceOptions, migrate } from './database/dataSource.js'
import { settingsFromEnvironment } from './common/settings.js'
import { inSchool } from './database/inSchool.js'
import { Person, School } from './access/access.entity.js'
import { ENTITIES } from './entities.js'

/** What a new school needs: what it is called, where its clocks and its alphabet are, and who runs its office first. */
export interface FirstOffice {
  readonly school: string
  readonly timeZone: string
  readonly locale: string
  readonly first: string
  readonly last: string
  readonly email: string
}

/**
 * Begins a school with the first person of its office.
 * @returns the token of a link with which that person chooses a password
 * @throws with a sentence if something of it cannot be
 */
export async function beginSchool(source: DataSource, input: FirstOffice): Promise<string> {
  const school = cleanText(input.school)
  const [first, last] = [cleanText(input.first), cleanText(input.last)]
  if (!school) throw new Error('Give the school a name.')
  if (!first && !last) throw new Error('Give the name of the first person of the office.')
  if (!isEmail(input.email)) throw new Error(`"${input.email}" is not an e-mail address.`)
  try {
    new Intl.DateTimeFormat(input.locale, { timeZone: input.timeZone })
  } catch {
    throw new Error(`"${input.timeZone}" is no time zone, or "${input.locale}" no language tag.`)
  }
  const [schoolId, personId] = [randomUUID(), randomUUID()]
  return source.transaction(async (tx) => {
    await tx.insert(School, { id: schoolId, name: school, timeZone: input.timeZone, locale: input.locale })
    await inSchool(tx, schoolId).insert(Person, {
      id: personId,
      role: 'office',
      first,
      last,
      email: input.email,
      emailKey: emailKey(input.email),
    })
    return newAccountLink(tx, schoolId, personId, 'invitation')
  })
}

if (process.argv[1] === import.meta.filename) {
  const [school, timeZone, locale, email, first, last = ''] = process.argv.slice(2)
  if (!first || !email || !locale || !timeZone || !school) {
    console.error('Say: node server/dist/beginSchool.js "<school>" <time zone> <locale> <e-mail> "<first>" "<last>"')
    process.exitCode = 1
  } else {
    const settings = settingsFromEnvironment()
    await migrate(settings.databaseUrl)
    const source = await new DataSource({
      ...dataSourceOptions(settings.databaseUrl, 1),
      entities: ENTITIES,
    }).initialize()
    try {
      const token = await beginSchool(source, { school, timeZone, locale, email, first, last })
      console.log(`${school} is begun. ${first} chooses a password here: ${settings.mail.publicUrl}/password#${token}`)
    } catch (error) {
      console.error(error instanceof Error ? error.message : String(error))
      process.exitCode = 1
    } finally {
      await source.destroy()
    }
  }
}
