export interface MomentProps {
  /** What the moment is of: "Due", "Opens". */
  readonly what: string
  /** Milliseconds since 1970; null: none. */
  readonly at: number | null
  /** The time of day that stands there at first, as "16:00". */
  readonly usual: string
  readonly change: (at: number | null) => void
  /** Told of only once the field is left: where each change goes to the server by itself. */
  readonly settles?: boolean
  /** What is wrong with it. */
  readonly problem?: string | undefined
}
