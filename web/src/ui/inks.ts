/** The six inks a class can answer in; their colours are in theme.css under the same names. */
export const INKS = ['deep blue', 'plum', 'forest', 'rust', 'teal', 'charcoal'] as const
export type Ink = (typeof INKS)[number]

/** The value of `data-ink` that sets the answer ink of everything within. */
export const inkName = (ink: string): string => ink.replace(' ', '-')
