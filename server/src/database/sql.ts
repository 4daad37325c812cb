/** A time column as the program has it: milliseconds since 1970. */
export const ms = (column: string): string => `(extract(epoch FROM ${column}) * 1000)::float8`
