/** The school year of the northern half of the world that a day falls in: "2026/27". */
export function schoolYear(day: Date): string {
  const start = day.getMonth() >= 6 ? day.getFullYear() : day.getFullYear() - 1
  return `${start}/${String((start + 1) % 100).padStart(2, '0')}`
}

/** The year after one that is written in a usual way ("2026/27", "2026-2027", "2026"); the same text for any other. */
export function yearAfter(year: string): string {
  const parts = /^(\d{4})(?:([/–-])(\d{2}|\d{4}))?$/.exec(year.trim())
  if (!parts) return year
  const next = Number(parts[1]) + 1
  if (!parts[2]) return String(next)
  const end = next + 1
  return `${next}${parts[2]}${parts[3]!.length === 2 ? String(end % 100).padStart(2, '0') : end}`
}
