/** One measured figure beside the limit it is compared with, measured in the same run. */
export interface Figure {
  readonly bench: string
  readonly case: string
  readonly value: number
  readonly unit: string
  readonly limit?: number
  readonly [more: string]: unknown
}

const round = (value: number) => Number(value.toPrecision(4))

/** Prints a figure as one JSON line; the ratio is value to limit. */
export function print({ value, limit, ...figure }: Figure): void {
  const compared =
    limit === undefined ? { limit: null, ratio: null } : { limit: round(limit), ratio: round(value / limit) }
  console.log(JSON.stringify({ ...figure, value: round(value), ...compared }))
}

/** The value below which a share of the samples lies. */
export function quantile(samples: readonly number[], share: number): number {
  const sorted = [...samples].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? Number.NaN
}

export const median = (samples: readonly number[]): number => quantile(samples, 0.5)

/** Milliseconds that something takes. */
export async function timed(work: () => Promise<unknown>): Promise<number> {
  const before = performance.now()
  await work()
  return performance.now() - before
}
