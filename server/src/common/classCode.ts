import { randomInt } from 'node:crypto'

// No signs that look like others when written on a board (0 O, 1 I, 8 B, 5 S, 2 Z, 6 G), no vowels that make words.
const SIGNS = 'CDFHJKLMNPQRTVWX23456789'

/** A code for a class: six signs, nearly two hundred million of them. */
export const newClassCode = (): string => Array.from({ length: 6 }, () => SIGNS[randomInt(SIGNS.length)]).join('')

/** A code as somebody typed it, in the form in which it is kept. */
export const classCodeOf = (typed: string): string => typed.toUpperCase().replace(/[^A-Z0-9]/g, '')
