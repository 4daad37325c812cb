import { type Outcome, fine, refuse } from '../errors/problem.js'
import type { Box } from '../worksheet/content.js'
import { isId, isRecord } from '../worksheet/reading.js'
import type { Place } from './places.js'
import type { Corners, Point } from './raster.js'
import type { CheckedWord } from './recognised.js'

/** A paragraph that was read, as it is being put right. */
export interface ReadBlock {
  readonly key: string
  readonly is: 'heading' | 'paragraph'
  readonly text: string
  /** As the reader had them; empty once the text was changed by hand. */
  readonly words: readonly CheckedWord[]
  readonly box: Box
}

/** A figure that was cut out of the page: a picture that is kept with the file. */
export interface CutFigure {
  readonly medium: { readonly id: string; readonly width: number; readonly height: number }
  readonly box: Box
}

/** How a page is taken out of its photograph. */
export interface PhotoCut {
  /** In pixels of the photograph; null: the whole picture is the page. */
  readonly corners: Corners | null
  /** Shadows are taken out and print is darkened. */
  readonly even: boolean
  /** Degrees clockwise. */
  readonly turn: number
}

/** One photograph on its way to be a page. */
export interface PhotoPage {
  readonly key: string
  /** The picture it is; null: the file that was brought in. */
  readonly picture: string | null
  /** Of the photograph, in pixels. */
  readonly width: number
  readonly height: number
  /** Null until they are found, or the whole picture is the page. */
  readonly corners: Corners | null
  readonly found: boolean
  readonly even: boolean
  readonly turn: number
  /** Whether its corners or its text are worked on. */
  readonly step: 'corners' | 'text'
  /** How it was straightened when it was read; null: it was not yet. */
  readonly cut: PhotoCut | null
  readonly way: 'text' | 'backdrop'
  /** Null: not read yet. */
  readonly blocks: readonly ReadBlock[] | null
  readonly figures: readonly CutFigure[]
  readonly places: readonly Place[]
}

/** What was done with the photographs of an upload before it is a worksheet. */
export interface PhotoWork {
  readonly pages: readonly PhotoPage[]
}

/** Photographs of one upload, and the bytes that those added to it have together. */
export const PHOTO_LIMITS = { pages: 20, bytes: 150_000_000 } as const
const LIMITS = { blocks: 600, words: 4_000, text: 20_000, figures: 100, places: 600, side: 100_000 } as const

class Unreadable extends Error {}
const hold = (is: boolean): void => {
  if (!is) throw new Unreadable()
}
const number = (value: unknown, least: number, most: number): number => {
  hold(typeof value === 'number' && value >= least && value <= most)
  return value as number
}
const truth = (value: unknown): boolean => {
  hold(typeof value === 'boolean')
  return value as boolean
}
const text = (value: unknown, most: number): string => {
  hold(typeof value === 'string' && value.length <= most)
  return value as string
}
const one = <T extends string>(value: unknown, ...of: readonly T[]): T => {
  hold(of.includes(value as T))
  return value as T
}
const id = (value: unknown): string => {
  hold(isId(value))
  return value as string
}
const record = (value: unknown): Record<string, unknown> => {
  hold(isRecord(value))
  return value as Record<string, unknown>
}
const list = <T>(value: unknown, most: number, read: (item: unknown) => T): T[] => {
  hold(Array.isArray(value) && value.length <= most)
  return (value as unknown[]).map(read)
}
const orNull = <T>(value: unknown, read: (value: unknown) => T): T | null => (value === null ? null : read(value))

function box(raw: unknown): Box {
  const { x, y, width, height } = record(raw)
  // What a reader measures may reach over the edge by a hair.
  const part = (value: unknown) => Math.min(1, Math.max(0, number(value, -2, 2)))
  return { x: part(x), y: part(y), width: part(width), height: part(height) }
}

function corners(raw: unknown): Corners {
  const point = (value: unknown): Point => {
    const { x, y } = record(value)
    return { x: number(x, 0, LIMITS.side), y: number(y, 0, LIMITS.side) }
  }
  const all = list(raw, 4, point)
  hold(all.length === 4)
  return all as unknown as Corners
}

const cutOf = ({ corners: at, even, turn }: Record<string, unknown>): PhotoCut => ({
  corners: orNull(at, corners),
  even: truth(even),
  turn: number(turn, 0, 359),
})

function block(raw: unknown): ReadBlock {
  const { key, is, text: words, words: parts, box: at } = record(raw)
  return {
    key: id(key),
    is: one(is, 'heading', 'paragraph'),
    text: text(words, LIMITS.text),
    words: list(parts, LIMITS.words, (part) => {
      const { text: word, doubtful } = record(part)
      return { text: text(word, 500), doubtful: truth(doubtful) }
    }),
    box: box(at),
  }
}

function figure(raw: unknown): CutFigure {
  const { medium, box: at } = record(raw)
  const { id: mediumId, width, height } = record(medium)
  const side = (value: unknown) => number(value, 1, LIMITS.side)
  return { medium: { id: text(mediumId, 40), width: side(width), height: side(height) }, box: box(at) }
}

function place(raw: unknown): Place {
  const { is, box: at } = record(raw)
  return { is: one(is, 'line', 'frame'), box: box(at) }
}

function page(raw: unknown): PhotoPage {
  const read = record(raw)
  return {
    key: id(read['key']),
    picture: orNull(read['picture'], (value) => text(value, 40)),
    width: number(read['width'], 1, LIMITS.side),
    height: number(read['height'], 1, LIMITS.side),
    ...cutOf(read),
    found: truth(read['found']),
    step: one(read['step'], 'corners', 'text'),
    cut: orNull(read['cut'], (value) => cutOf(record(value))),
    way: one(read['way'], 'text', 'backdrop'),
    blocks: orNull(read['blocks'], (value) => list(value, LIMITS.blocks, block)),
    figures: list(read['figures'], LIMITS.figures, figure),
    places: list(read['places'], LIMITS.places, place),
  }
}

/**
 * Reads the work on photographs from anywhere and answers with nothing but what it is made of, or says that it is none.
 * @param raw any JSON value
 */
export function checkPhotoWork(raw: unknown): Outcome<PhotoWork> {
  try {
    return fine({ pages: list(record(raw)['pages'], PHOTO_LIMITS.pages, page) })
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error
    return refuse({
      code: 'photo-work-malformed',
      field: 'work',
      sentence: 'What was done with these photographs cannot be read: load the page again.',
    })
  }
}
