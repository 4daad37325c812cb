/**
 * The language that times, dates and numbers are written in for a school: the language of Gavrin's words, in the order and with
 * the clock of the school's region.
 * @param locale BCP 47 tag of the school; null: no school is known
 * @returns a BCP 47 tag
 */
export function languageOfTimes(locale: string | null): string {
  const region = locale === null ? undefined : new Intl.Locale(locale).maximize().region
  return region ? `en-${region}` : 'en-GB'
}
