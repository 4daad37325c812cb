import { type Outcome, fine, refuse } from '../errors/problem.js'
import { readNumberText } from '../worksheet/numbers.js'

/**
 * Points are whole hundredths everywhere in marking: 14½ points are 1450. Sums of them are exact, in whatever order; halves and
 * quarters have no rest.
 */
export type Points = number

/** The most points that anything has: ten thousand. */
export const MOST_POINTS: Points = 1_000_000

/** Points as a worksheet or a slip has them, with a decimal sign, in hundredths. */
export const pointsFrom = (plain: number): Points => Math.round(plain * 100)

const FRACTIONS: Readonly<Record<string, number>> = { '¼': 25, '½': 50, '¾': 75, '1/4': 25, '1/2': 50, '3/4': 75 }
const WITH_FRACTION = /^(-?)(\d{0,5})\s*([¼½¾]|[13]\/4|1\/2)$/

/**
 * Reads points as people type them: `14`, `14.5`, `14,5`, `14½`, `14 1/2`.
 * @param most no more than these
 * @param least no less: deductions are negative
 * @returns a problem for what is no number, has more than two decimals, or lies outside
 */
export function readPoints(raw: string, most: Points = MOST_POINTS, least: Points = 0): Outcome<Points> {
  const text = raw.trim().replace('−', '-')
  const parted = WITH_FRACTION.exec(text)
  let points: number
  if (parted) {
    const [, sign, whole, fraction] = parted
    points = (Number(whole) * 100 + FRACTIONS[fraction!]!) * (sign ? -1 : 1)
  } else {
    const plain = readNumberText(text)
    if (plain === null) return refuse({ code: 'no-points', sentence: 'Type points as a number, such as 14 or 14½.' })
    points = Math.round(plain * 100)
    if (Math.abs(plain * 100 - points) > 1e-6)
      return refuse({ code: 'too-fine', sentence: 'Points have two decimals at most.' })
  }
  if (points > most) return refuse({ code: 'too-many', sentence: `There are ${pointsInWords(most)} points at most.` })
  if (points < least)
    return refuse({
      code: 'too-few',
      sentence: least === 0 ? 'Points are not below 0.' : `No less than ${pointsInWords(least)} points.`,
    })
  return fine(points)
}

const SIGNS: Readonly<Record<number, string>> = { 25: '¼', 50: '½', 75: '¾' }

/** Points as they are shown: `14`, `14½`, `0.3`, `−2`. */
export function pointsInWords(points: Points): string {
  const sign = points < 0 ? '−' : ''
  const size = Math.abs(points)
  const whole = Math.floor(size / 100)
  const rest = size % 100
  if (rest === 0) return `${sign}${whole}`
  const fraction = SIGNS[rest]
  if (fraction) return `${sign}${whole || ''}${fraction}`
  return `${sign}${whole}.${String(rest).padStart(2, '0').replace(/0$/, '')}`
}

/** Whether something is points: whole hundredths between two values. */
export const isPoints = (value: unknown, least: Points = 0): value is Points =>
  Number.isInteger(value) && (value as number) >= least && (value as number) <= MOST_POINTS
