import { findForm } from '@gavrin/core'
import type { DataSource } from 'typeorm'

const BATCH = 2_000
/** Words that are looked for; more are not typed by anybody. */
const WORDS = 10

/** Writes down in which form the people of a school are looked for, where their names are new. */
export async function formPeople(source: DataSource, schoolId: string): Promise<void> {
  for (;;) {
    const rows = await source.query<
      { id: string; first: string; last: string; email: string | null; number: string | null }[]
    >(
      `SELECT id, first_name AS first, last_name AS last, email, number FROM person WHERE school_id = $1 AND find_form IS NULL LIMIT ${BATCH}`,
      [schoolId],
    )
    if (rows.length === 0) return
    const forms = rows.map(({ first, last, email, number }) => {
      const form = findForm(`${first} ${last} ${email ?? ''} ${number ?? ''}`)
      // Also without the blanks: "ohara" finds O Hara.
      return `${form}\n${form.replaceAll(' ', '')}`
    })
    // Whoever was renamed meanwhile comes again.
    await source.query(
      `UPDATE person p SET find_form = f.form
         FROM unnest($2::uuid[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[]) AS f(id, form, first, last, email, number)
        WHERE p.school_id = $1 AND p.id = f.id AND p.first_name = f.first AND p.last_name = f.last
          AND p.email IS NOT DISTINCT FROM f.email AND p.number IS NOT DISTINCT FROM f.number`,
      [
        schoolId,
        rows.map(({ id }) => id),
        forms,
        rows.map(({ first }) => first),
        rows.map(({ last }) => last),
        rows.map(({ email }) => email),
        rows.map(({ number }) => number),
      ],
    )
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
  icu ??= source
    .query<{ collname: string }[]>(`SELECT collname FROM pg_collation WHERE collprovider = 'i'`)
    .then((rows) => new Set(rows.map(({ collname }) => collname)))
  const known = await icu.catch(() => {
    // Asked again by the next one: the database was away.
    icu = null
    return new Set<string>()
  })
  const short = /^[a-z]{2,3}(?=-|$)/i.exec(language)?.[0].toLowerCase()
  return [`${short}-x-icu`, 'und-x-icu'].find((name) => known.has(name)) ?? 'default'
}
