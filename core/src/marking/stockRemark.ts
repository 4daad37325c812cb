import { type Outcome, fine, refuse } from '../errors/problem.js'
import { cleanText } from '../roster/names.js'
import { MARK_LIMITS } from './parts.js'

/** A remark that is kept to be used again. */
export interface StockRemarkText {
  /** By which it is called up: one word. */
  readonly short: string
  readonly text: string
}

/** Letters of a short name; and how many remarks one keeps: as many as anybody knows by heart, several times over. */
export const STOCK_LIMITS = { short: 20, remarks: 500 } as const

/** Reads a stock remark as it was typed: its short name in small letters, so that it is found however it is typed. */
export function checkStockRemark(typed: StockRemarkText): Outcome<StockRemarkText> {
  const short = cleanText(typed.short).toLocaleLowerCase('und')
  const text = typed.text.trim()
  if (!/^[\p{L}\p{N}-]+$/u.test(short) || short.length > STOCK_LIMITS.short)
    return refuse({
      code: 'short',
      field: 'short',
      sentence: `A short name is one word of up to ${STOCK_LIMITS.short} letters and figures.`,
    })
  if (!text || text.length > MARK_LIMITS.remark)
    return refuse({ code: 'text', field: 'text', sentence: 'Write what the remark says.' })
  return fine({ short, text })
}

/** A short name after a slash, where it was just typed with a blank after it. */
const CALLED = /(^|\s)\/([\p{L}\p{N}-]+)\s$/u

/** A text in which a stock remark was called up by a slash and its short name, with the remark in its place; null: none was. */
export function withCalledRemark(text: string, stock: readonly StockRemarkText[]): string | null {
  const called = CALLED.exec(text)
  const found = called && stock.find(({ short }) => short === called[2]!.toLocaleLowerCase('und'))
  return found ? `${text.slice(0, called.index)}${called[1]}${found.text} ` : null
}
