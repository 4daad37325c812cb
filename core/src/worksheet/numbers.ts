// Decimal comma or point, spaces or apostrophes between thousands, an exponent.
const NUMBER = /^[+\-−]?(?:\d[\d\s'’]*)?(?:[.,]\d+)?(?:[eE][+-]?\d+)?$/
// Both signs in one number: the first parts thousands (1.250,5 and 1,250.5).
const THOUSANDS = /^([+\-−]?)(\d{1,3})((?:([.,])\d{3})(?:\4\d{3})*)([.,])(\d+)$/

/** Whether a text is a number as people write them: 1 250,5 and 1250.5 and −3 and .5 are. */
export function isNumberText(text: string): boolean {
  const trimmed = text.trim()
  return (/\d/.test(trimmed) && NUMBER.test(trimmed)) || THOUSANDS.test(trimmed)
}

/**
 * The number that a text reads as; null if it is none. A single comma or point is a decimal sign; where both stand, the
 * last one is.
 */
export function readNumberText(text: string): number | null {
  const trimmed = text.trim()
  if (!isNumberText(trimmed)) return null
  const parted = THOUSANDS.exec(trimmed)
  const plain =
    parted && parted[4] !== parted[5]
      ? `${parted[1]}${parted[2]}${parted[3]!.replace(/\D/g, '')}.${parted[6]}`
      : trimmed.replace(/[\s'’]/g, '').replace(',', '.')
  const value = Number(plain.replace('−', '-'))
  return Number.isFinite(value) ? value : null
}

/** A number as it is shown: up to ten digits that count, without the noise of binary fractions. */
export function numberWords(value: number): string {
  if (!Number.isFinite(value)) return '–'
  return String(Number(value.toPrecision(10)))
}
