import { findForm } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { keepForms, collationNames } from './people.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'

const BATCH = 2_000
/** Words that are looked for; more are not typed by anybody. */
const WORDS = 10

/** Writes down in which form the people of a school are looked for, where their names are new. */
export async function formPeople(source: DataSource, schoolId: string): Promise<void> {
  for (;;) {
    const rows = await inSchool(source, schoolId).find(
      Person,
      { findForm: null },
      { select: ['id', 'first', 'last', 'email', 'number'], most: BATCH },
    )
    if (rows.length === 0) return
    const forms = rows.map(({ first, last, email, number }) => {
      const form = findForm(`${first} ${last} ${email ?? ''} ${number ?? ''}`)
      // Also without the blanks: "ohara" finds O Hara.
      return `${form}\n${form.replaceAll(' ', '')}`
    })
    // Whoever was renamed meanwhile comes again.
    await keepForms(source, schoolId, {
      ids: rows.map(({ id }) => id),
      forms,
      firsts: rows.map(({ first }) => first),
      lasts: rows.map(({ last }) => last),
      emails: rows.map(({ email }) => email),
      numbers: rows.map(({ number }) => number),
    })
    if (rows.length < BATCH) return
  }
}

/** What was typed, as patterns of LIKE that all have to be found. */
export const patternsOf = (typed: string): string[] =>
  findForm(typed)
    .split(' ')
    .filter(Boolean)
    .slice(0, WORDS)
    .map((word) => `%${word.replace(/[\\%_]/g, String.raw`\$&`)}%`)

let icu: Promise<ReadonlySet<string>> | null = null

/**
 * The collation of the database by which names are sorted for a reader.
 * @param language a BCP 47 tag; of one that is not known, the order that is nobody's in particular
 * @returns a name that can stand in a statement
 */
export async function collationOf(source: DataSource, language: string): Promise<string> {
  icu ??= collationNames(source).then((rows) => new Set(rows.map(({ collname }) => collname)))
  const known = await icu.catch(() => {
    // Asked again by the next one: the database was away.
    icu = null
    return new Set<string>()
  })
  const short = /^[a-z]{2,3}(?=-|$)/i.exec(language)?.[0].toLowerCase()
  return [`${short}-x-icu`, 'und-x-icu'].find((name) => known.has(name)) ?? 'default'
}
