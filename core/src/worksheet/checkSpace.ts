import { readNumberText } from './numbers.js'
import {
  ANSWER_KINDS,
  type AnswerSpace,
  type ChoiceOption,
  type ChoiceSpace,
  type Leniency,
  type NumberKey,
  type SpaceBasics,
  type WordKey,
} from './content.js'
import { type Reading, isId, isRecord, oneOf, readNumber, readText } from './reading.js'

export const SPACE_LIMITS = {
  options: 40,
  optionText: 500,
  unit: 30,
  label: 200,
  hint: 1_000,
  model: 10_000,
  starter: 5_000,
  accepted: 30,
  acceptedText: 300,
  points: 1_000,
  proposal: 2_000,
} as const

type Writable<T> = { -readonly [K in keyof T]: T[K] }

/** Reads an answer space; null, with the problem noted, if it is none. What is not said stays away. */
export function readSpace(reading: Reading, raw: Record<string, unknown>, field: string): AnswerSpace | null {
  const id = reading.takeId(raw['id'], field)
  const basics = readBasics(reading, raw, id, field)
  switch (raw['kind']) {
    case 'line':
      return {
        ...basics,
        kind: 'line',
        width: oneOf(raw['width'], ['full', 'short']),
        ...readWordKey(reading, raw, field),
      }
    case 'passage':
      return {
        ...basics,
        kind: 'passage',
        lines: wholeNumber(reading, raw['lines'], `${field}.lines`, [2, 40], 'A passage is 2 to 40 lines tall.'),
        ...readPassage(reading, raw, field),
      }
    case 'number':
      return {
        ...basics,
        kind: 'number',
        unit: readText(reading, raw['unit'], `${field}.unit`, SPACE_LIMITS.unit, 'A unit').trim(),
        ...readNumberKey(reading, raw, field),
      }
    case 'choice':
      return readChoice(reading, raw, basics, field)
    case 'gap':
      return {
        ...basics,
        kind: 'gap',
        width: wholeNumber(reading, raw['width'], `${field}.width`, [3, 60], 'A gap is 3 to 60 letters wide.'),
        ...readWordKey(reading, raw, field),
      }
    case 'cell': {
      const numeric = raw['numeric'] === true
      return {
        ...basics,
        kind: 'cell',
        numeric,
        ...(numeric ? readNumberKey(reading, raw, field) : readWordKey(reading, raw, field)),
      }
    }
    case 'drawing': {
      const ground = raw['ground'] ?? null
      if (ground !== null && !isId(ground)) reading.wrong(`${field}.ground`, 'The picture to draw on cannot be read.')
      return {
        ...basics,
        kind: 'drawing',
        height: readNumber(
          reading,
          raw['height'],
          `${field}.height`,
          [10, 200],
          'A drawing is 10 to 200 percent as tall as it is wide.',
        ),
        ground: ground as string | null,
      }
    }
    case 'file':
      return {
        ...basics,
        kind: 'file',
        most: wholeNumber(reading, raw['most'], `${field}.most`, [1, 10], 'A place for files takes 1 to 10 of them.'),
      }
    default:
      reading.wrong(`${field}.kind`, `A block is print or one of the answer spaces ${ANSWER_KINDS.join(', ')}.`)
      return null
  }
}

function wholeNumber(
  reading: Reading,
  raw: unknown,
  field: string,
  bounds: readonly [number, number],
  sentence: string,
): number {
  return Math.round(readNumber(reading, Number.isInteger(raw) ? raw : null, field, bounds, sentence))
}

function readBasics(reading: Reading, raw: Record<string, unknown>, id: string, field: string): SpaceBasics {
  const basics: Writable<SpaceBasics> = { id }
  const label = readText(reading, raw['label'], `${field}.label`, SPACE_LIMITS.label, 'A label').trim()
  if (label) basics.label = label
  const hint = readText(reading, raw['hint'], `${field}.hint`, SPACE_LIMITS.hint, 'A hint').trim()
  if (hint) basics.hint = hint
  const model = readText(reading, raw['model'], `${field}.model`, SPACE_LIMITS.model, 'A model answer').trim()
  if (model) basics.model = model
  if (raw['points'] !== undefined && raw['points'] !== null)
    basics.points = readNumber(
      reading,
      raw['points'],
      `${field}.points`,
      [0, SPACE_LIMITS.points],
      `Points go from 0 to ${SPACE_LIMITS.points}.`,
    )
  if (raw['required'] === true) basics.required = true
  if (isRecord(raw['proposed']))
    basics.proposed = {
      was: readText(reading, raw['proposed']['was'], `${field}.proposed`, SPACE_LIMITS.proposal, 'A proposal'),
    }
  return basics
}

function readWordKey(reading: Reading, raw: Record<string, unknown>, field: string): WordKey {
  const key: Writable<WordKey> = {}
  const accepted = raw['accepted']
  if (accepted !== undefined && !Array.isArray(accepted))
    reading.wrong(`${field}.accepted`, 'The accepted answers cannot be read.')
  if (Array.isArray(accepted)) {
    if (accepted.length > SPACE_LIMITS.accepted)
      reading.wrong(`${field}.accepted`, `Up to ${SPACE_LIMITS.accepted} answers can be accepted.`)
    const read = accepted
      .slice(0, SPACE_LIMITS.accepted)
      .map((answer: unknown, index) =>
        readText(reading, answer, `${field}.accepted.${index}`, SPACE_LIMITS.acceptedText, 'An accepted answer').trim(),
      )
      .filter(Boolean)
    if (read.length) key.accepted = [...new Set(read)]
  }
  const lenient = raw['lenient']
  if (isRecord(lenient)) {
    const read: Leniency = { case: lenient['case'] === true, accents: lenient['accents'] === true }
    key.lenient = read
  }
  return key
}

function readNumberKey(reading: Reading, raw: Record<string, unknown>, field: string): NumberKey {
  const key: Writable<NumberKey> = {}
  const value = readText(reading, raw['value'], `${field}.value`, 60, 'A number').trim()
  if (value && readNumberText(value) === null)
    reading.unfinished(`${field}.value`, 'The accepted answer does not read as a number.')
  if (value) key.value = value
  const tolerance = raw['tolerance']
  if (tolerance !== undefined && tolerance !== null) {
    const read = readNumber(reading, tolerance, `${field}.tolerance`, [0, 1e12], 'A tolerance is nought or more.')
    if (read > 0) key.tolerance = read
  }
  return key
}

function readPassage(reading: Reading, raw: Record<string, unknown>, field: string) {
  const starter = readText(reading, raw['starter'], `${field}.starter`, SPACE_LIMITS.starter, 'A beginning')
  const wanted = isRecord(raw['wanted']) ? raw['wanted'] : null
  const words = (name: 'least' | 'most') => {
    const value = wanted?.[name]
    if (value === null || value === undefined) return null
    return wholeNumber(
      reading,
      value,
      `${field}.wanted.${name}`,
      [1, 20_000],
      'A wanted length goes from 1 to 20,000 words.',
    )
  }
  const least = words('least')
  const most = words('most')
  if (least !== null && most !== null && least > most)
    reading.unfinished(`${field}.wanted.most`, 'The longest wanted length is less than the shortest.')
  return {
    ...(starter.trim() && { starter }),
    ...((least !== null || most !== null) && { wanted: { least, most } }),
  }
}

function readChoice(
  reading: Reading,
  raw: Record<string, unknown>,
  basics: SpaceBasics,
  field: string,
): ChoiceSpace | null {
  const { wrong } = reading
  const options = raw['options']
  if (!Array.isArray(options) || options.length < 2 || options.length > SPACE_LIMITS.options) {
    wrong(`${field}.options`, `A choice needs 2 to ${SPACE_LIMITS.options} options.`)
    return null
  }
  const ids = new Set<string>()
  const read = options.map((option: unknown, index): ChoiceOption => {
    const place = `${field}.options.${index}`
    const optionId = isRecord(option) ? option['id'] : null
    const text = isRecord(option) ? option['text'] : null
    if (!isId(optionId) || ids.has(optionId)) wrong(`${place}.id`, 'This option has no id of its own.')
    else ids.add(optionId)
    if (typeof text !== 'string' || !text.trim())
      reading.unfinished(`${place}.text`, `Option ${index + 1} is empty: write it or remove it.`)
    else if (text.length > SPACE_LIMITS.optionText)
      wrong(`${place}.text`, `Option ${index + 1} is longer than ${SPACE_LIMITS.optionText} characters.`)
    return { id: String(optionId), text: typeof text === 'string' ? text.trim() : '' }
  })
  const many = raw['many'] === true
  const right = (Array.isArray(raw['right']) ? raw['right'] : []).filter(
    (id): id is string => typeof id === 'string' && ids.has(id),
  )
  if (!many && right.length > 1) wrong(`${field}.right`, 'Only one option may be chosen, so only one can be right.')
  return {
    ...basics,
    kind: 'choice',
    many,
    options: read,
    ...(raw['shuffled'] === true && { shuffled: true }),
    ...(right.length > 0 && { right: [...new Set(right)] }),
  }
}
