import type { JoinColumnOptions, ValueTransformer } from 'typeorm'

/** A time: in the database one with its zone, in the program milliseconds since 1970. */
export const MOMENT: ValueTransformer = {
  to: (at: number | null | undefined) => (typeof at === 'number' ? new Date(at) : at),
  from: (at: Date | null) => (at === null ? null : at.getTime()),
}

/** A number of any size and precision, which the driver reads as text. */
export const NUMBER: ValueTransformer = {
  to: (value: number | null | undefined) => value,
  from: (value: string | null) => (value === null ? null : Number(value)),
}

/** The columns of a key to a row of the same school: the school first, then what names the row there. */
export const schoolKey = (name: string, columns: Readonly<Record<string, string>>): JoinColumnOptions[] =>
  Object.entries({ school_id: 'schoolId', ...columns }).map(([column, referencedColumnName]) => ({
    name: column,
    referencedColumnName,
    foreignKeyConstraintName: name,
  }))
