import jsep from 'jsep'
import type { TableBlock } from './content.js'
import { numberWords, readNumberText } from './numbers.js'
import { type PlacedCell, cellName, placeCells, readCellName } from './tableGrid.js'
import { cellText } from './words.js'

/** What a formula comes to: a number, or why there is none. Neither: what it rests on is not filled in yet. */
export type FormulaResult =
  | { readonly is: 'number'; readonly value: number; readonly words: string }
  | { readonly is: 'waiting' }
  | { readonly is: 'wrong'; readonly sentence: string }

type Operand = { readonly range: readonly number[]; readonly gaps: number } | { readonly number: number }

class Wrong extends Error {}
class Waiting extends Error {}

/**
 * Reads an expression, in which a range binds closer than any other sign and a power from the right. What the package that
 * reads knows of signs is shared by the whole program: afterwards it is as it was.
 */
function readExpression(formula: string): jsep.Expression {
  const { '^': power } = jsep.binary_ops
  jsep.addBinaryOp(':', 20)
  jsep.addBinaryOp('^', 15, true)
  try {
    return jsep(formula)
  } finally {
    jsep.removeBinaryOp(':')
    jsep.removeBinaryOp('^')
    if (power !== undefined) jsep.addBinaryOp('^', power)
  }
}

const DEPTH_LIMIT = 40
/** Squares that the ranges of a table pass over in all: far more than any table of a school, and told at once. */
const RANGE_SQUARES = 200_000
const NO_NUMBER = 'This cannot be divided or worked out.'
const RANGE_ALONE = 'A range of cells can only stand in a function, such as sum(B2:B5).'

const FUNCTIONS: Readonly<Record<string, (values: readonly number[]) => number>> = {
  sum: (values) => values.reduce((total, value) => total + value, 0),
  mean: (values) => values.reduce((total, value) => total + value, 0) / values.length,
  min: (values) => Math.min(...values),
  max: (values) => Math.max(...values),
  count: (values) => values.length,
  round: ([value = Number.NaN, places = 0]) => {
    const scale = 10 ** Math.min(10, Math.max(0, Math.round(places)))
    return Math.round(value * scale) / scale
  },
  abs: ([value = Number.NaN]) => Math.abs(value),
  sqrt: ([value = Number.NaN]) => Math.sqrt(value),
}
/** The names of the functions that formulas know. */
export const FORMULA_FUNCTIONS: readonly string[] = Object.keys(FUNCTIONS)

function parse(formula: string): jsep.Expression {
  try {
    return readExpression(formula)
  } catch {
    throw new Wrong('This formula cannot be read.')
  }
}

/**
 * Why a formula cannot be worked out whatever stands in the cells: one sentence, or null if nothing is wrong with it.
 * @param formula without the equals sign
 */
export function formulaProblem(formula: string): string | null {
  const walk = (node: jsep.Expression, depth: number): void => {
    if (depth > DEPTH_LIMIT) throw new Wrong('This formula is nested too deeply.')
    work(node, {
      cell: () => ({ number: 1 }),
      inner: (child) => {
        walk(child, depth + 1)
        return child.type === 'BinaryExpression' && child['operator'] === ':' ? { range: [1], gaps: 0 } : { number: 1 }
      },
    })
  }
  try {
    const whole = parse(formula)
    if (whole.type === 'BinaryExpression' && whole['operator'] === ':') throw new Wrong(RANGE_ALONE)
    walk(whole, 0)
    return null
  } catch (error) {
    if (error instanceof Wrong) return error.message
    if (error instanceof Waiting) return null
    throw error
  }
}

interface Surroundings {
  /** What stands in one square, or in the squares from one to another. */
  readonly cell: (from: string, to?: string) => Operand
  readonly inner: (node: jsep.Expression) => Operand
}

/** One step of working out a formula. Nothing but numbers, squares, five signs and the known functions is understood. */
function work(node: jsep.Expression, { cell, inner }: Surroundings): Operand {
  const one = (operand: Operand): number => {
    if ('number' in operand) return operand.number
    throw new Wrong(RANGE_ALONE)
  }
  const named = (part: unknown): string => {
    const { type, name } = part as { type: string; name?: string }
    if (type !== 'Identifier' || !readCellName(name!)) throw new Wrong('A range goes from one cell to another: B2:B5.')
    return name!
  }
  switch (node.type) {
    case 'Literal':
      if (typeof node['value'] === 'number') return { number: node['value'] }
      break
    case 'Identifier':
      if (readCellName(node['name'] as string)) return cell(node['name'] as string)
      throw new Wrong(`“${node['name'] as string}” is no cell of a table.`)
    case 'UnaryExpression': {
      const value = one(inner(node['argument'] as jsep.Expression))
      if (node['operator'] === '-') return { number: -value }
      if (node['operator'] === '+') return { number: value }
      break
    }
    case 'BinaryExpression': {
      if (node['operator'] === ':') return cell(named(node['left']), named(node['right']))
      const left = one(inner(node['left'] as jsep.Expression))
      const right = one(inner(node['right'] as jsep.Expression))
      switch (node['operator'] as string) {
        case '+':
          return { number: left + right }
        case '-':
          return { number: left - right }
        case '*':
          return { number: left * right }
        case '/':
          return { number: left / right }
        case '^':
          return { number: left ** right }
      }
      break
    }
    case 'CallExpression': {
      const callee = node['callee'] as { type: string; name?: string }
      const name = callee.type === 'Identifier' ? callee.name!.toLowerCase() : ''
      if (!Object.hasOwn(FUNCTIONS, name)) throw new Wrong(`The functions are ${FORMULA_FUNCTIONS.join(', ')}.`)
      const operands = (node['arguments'] as jsep.Expression[]).map(inner)
      const values = operands.flatMap((operand) => ('number' in operand ? [operand.number] : operand.range))
      if (operands.length === 0) throw new Wrong(`Say of which cells: ${name}(B2:B5).`)
      if (values.length === 0 && name !== 'count' && name !== 'sum') throw new Waiting()
      return { number: FUNCTIONS[name]!(values) }
    }
  }
  throw new Wrong('A formula is made of cells, numbers, + − * / ^, brackets and functions.')
}

/** A formula of a table that cannot be worked out, whatever is answered. */
export interface FormulaProblem {
  /** The name of its square: `B6`. */
  readonly cell: string
  /** Its row, and its place among the cells of that row. */
  readonly down: number
  readonly at: number
  readonly sentence: string
}

/** Which formulas of a table cannot be worked out: they cannot be read, rest on a cell that is not there, or on themselves. */
export function formulaProblems(table: Pick<TableBlock, 'rows'>): FormulaProblem[] {
  const cells = placeCells(table)
  if (!cells.some(({ cell }) => cell.formula !== null)) return []
  // With an answer in every space nothing waits, and what is wrong then is wrong always.
  const results = workOutTable(table, () => '1')
  return cells.flatMap(({ cell, row, column, at }) => {
    if (cell.formula === null) return []
    const name = cellName(row, column)
    const result = results.get(name)
    const found = result?.is === 'wrong' && result.sentence !== NO_NUMBER ? result.sentence : null
    const sentence = formulaProblem(cell.formula) ?? found
    return sentence === null ? [] : [{ cell: name, down: row, at, sentence }]
  })
}

/**
 * What the formulas of a table come to, by the name of their square (`B6`).
 *
 * A single empty cell keeps a formula waiting; in a range empty cells and words are passed over. Formulas may rest on
 * other formulas; those that rest on themselves say so.
 * @param answerOf what stands in an answer space, as it was typed
 */
export function workOutTable(
  table: Pick<TableBlock, 'rows'>,
  answerOf: (spaceId: string) => string,
): Map<string, FormulaResult> {
  const cells = placeCells(table)
  const at = new Map<string, PlacedCell>(cells.map((placed) => [cellName(placed.row, placed.column), placed]))
  const results = new Map<string, FormulaResult>()
  const open: string[] = []
  const grid: string[][] = []
  for (const { row, column } of cells) (grid[row] ??= [])[column] = cellName(row, column)
  const written = new Map<string, number | null>()
  let squares = 0

  const squareNumber = (name: string): number | null => {
    const known = written.get(name)
    if (known !== undefined) return known
    const { formula, space } = at.get(name)!.cell
    if (formula !== null) {
      const result = resultOf(name, formula)
      if (result.is === 'wrong') throw new Wrong(result.sentence)
      return result.is === 'number' ? result.value : null
    }
    const number = readNumberText(space ? answerOf(space.id) : cellText(at.get(name)!.cell))
    written.set(name, number)
    return number
  }

  const cell = (from: string, to?: string): Operand => {
    const first = readCellName(from)!
    if (to === undefined) {
      const name = cellName(first.row, first.column)
      if (!at.has(name)) throw new Wrong(`This table has no cell ${name}.`)
      const number = squareNumber(name)
      if (number === null) throw new Waiting()
      return { number }
    }
    const last = readCellName(to)!
    const range: number[] = []
    let gaps = 0
    const rows = grid.slice(Math.min(first.row, last.row), Math.max(first.row, last.row) + 1)
    for (const row of rows)
      for (const name of row?.slice(Math.min(first.column, last.column), Math.max(first.column, last.column) + 1) ??
        []) {
        if (++squares > RANGE_SQUARES) throw new Wrong('The formulas of this table are too many to be worked out.')
        // A square that another cell covers has no name.
        const number = name === undefined ? null : squareNumber(name)
        if (number !== null) range.push(number)
        else if (name !== undefined) gaps++
      }
    return { range, gaps }
  }

  function resultOf(name: string, formula: string): FormulaResult {
    const known = results.get(name)
    if (known) return known
    if (open.includes(name))
      throw new Wrong(`${[...open.slice(open.indexOf(name)), name].join(' → ')} goes in a circle.`)
    open.push(name)
    let depth = 0
    const inner = (node: jsep.Expression): Operand => {
      if (++depth > DEPTH_LIMIT * 5) throw new Wrong('This formula is nested too deeply.')
      return work(node, { cell, inner })
    }
    let result: FormulaResult
    try {
      const operand = inner(parse(formula))
      if (!('number' in operand)) throw new Wrong(RANGE_ALONE)
      result = Number.isFinite(operand.number)
        ? { is: 'number', value: operand.number, words: numberWords(operand.number) }
        : { is: 'wrong', sentence: NO_NUMBER }
    } catch (error) {
      if (error instanceof Waiting) result = { is: 'waiting' }
      else if (error instanceof Wrong) result = { is: 'wrong', sentence: error.message }
      else throw error
    } finally {
      open.pop()
    }
    results.set(name, result)
    return result
  }

  for (const [name, { cell: one }] of at) if (one.formula !== null) resultOf(name, one.formula)
  return results
}
