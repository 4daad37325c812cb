/** "28 copies", "1 copy". */
export const copiesInWords = (count: number): string => `${count} ${count === 1 ? 'copy' : 'copies'}`

/** How long until a moment: "4:32", "1:04:32"; "0:00" once it has come. */
export function countdown(at: number, now: number): string {
  const seconds = Math.max(0, Math.ceil((at - now) / 1_000))
  const two = (value: number) => String(value).padStart(2, '0')
  const [hours, minutes] = [Math.floor(seconds / 3_600), Math.floor(seconds / 60) % 60]
  return hours > 0 ? `${hours}:${two(minutes)}:${two(seconds % 60)}` : `${minutes}:${two(seconds % 60)}`
}

/** So many percent more, as people say it. */
export const MORE_TIME = [
  { percent: 10, words: 'a tenth more' },
  { percent: 25, words: 'a quarter more' },
  { percent: 33, words: 'a third more' },
  { percent: 50, words: 'half as much again' },
  { percent: 100, words: 'twice the time' },
] as const

export const percentInWords = (percent: number): string =>
  MORE_TIME.find((one) => one.percent === percent)?.words ?? `${percent} percent more`
