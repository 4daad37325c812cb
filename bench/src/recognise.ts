import {
  type RecognisedLine,
  type Rgba,
  cornersOf,
  evenOut,
  findCorners,
  readRecognised,
  recognisedText,
  straighten,
  toGrey,
} from '@gavrin/core'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import sharp from 'sharp'
import { OEM, PSM, createWorker } from 'tesseract.js'
import { print } from './figures.js'

// Text recognition of the sample photographs, as they are and after clean-up, against the text that is known: the share of
// characters that would have to be put right (Levenshtein distance by length). The same code and data as in the browser.

const SAMPLES = new URL('../../samples/worksheets/', import.meta.url)
const PHOTOGRAPHS = ['knots.png', 'knots-by-the-lamp.jpg', 'knots-in-a-hurry.jpg']
const LETTERS = join(
  dirname(createRequire(import.meta.url).resolve('@tesseract.js-data/eng/package.json')),
  '4.0.0_best_int',
)

function errorRate(known: string, read: string): number {
  const one = [...known]
  const other = [...read]
  let row = Array.from({ length: other.length + 1 }, (_, at) => at)
  one.forEach((letter, i) => {
    const next = [i + 1]
    other.forEach((read1, j) => next.push(Math.min(row[j + 1]! + 1, next[j]! + 1, row[j]! + Number(letter !== read1))))
    row = next
  })
  return row[other.length]! / one.length
}

const inLine = (text: string) => text.replace(/\s+/g, ' ').trim()
const known = inLine(readFileSync(new URL('knots.txt', SAMPLES), 'utf8'))
const worker = await createWorker('eng', OEM.LSTM_ONLY, { langPath: LETTERS, cacheMethod: 'none', gzip: true })
await worker.setParameters({ tessedit_pageseg_mode: PSM.AUTO, debug_file: '/dev/null' })

async function read(picture: Buffer): Promise<{ text: string; lines: RecognisedLine[]; milliseconds: number }> {
  const before = performance.now()
  const { data } = await worker.recognize(picture, {}, { blocks: true, text: true })
  return {
    milliseconds: performance.now() - before,
    text: inLine(data.text),
    lines: (data.blocks ?? []).flatMap(({ paragraphs }) =>
      paragraphs.flatMap(({ lines }) =>
        lines.map(({ words, rowAttributes }) => ({
          height: rowAttributes?.rowHeight ?? 0,
          words: words.map(({ text, confidence, bbox }) => ({ text, confidence, ...bbox })),
        })),
      ),
    ),
  }
}

for (const name of PHOTOGRAPHS) {
  const file = readFileSync(new URL(name, SAMPLES))
  const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true })
  const picture: Rgba = { width: info.width, height: info.height, data }
  const raw = await read(file)
  const before = performance.now()
  const corners = findCorners(toGrey(picture))
  const isWhole = JSON.stringify(corners) === JSON.stringify(cornersOf(info.width, info.height))
  const page = evenOut(straighten(picture, corners, 2_600, isWhole))
  const cleaning = performance.now() - before
  const png = await sharp(Buffer.from(page.data), { raw: { width: page.width, height: page.height, channels: 4 } })
    .png()
    .toBuffer()
  const clean = await read(png)
  const text = readRecognised(clean.lines, page).map(recognisedText).join(' ')
  const bench = 'recognise'
  print({ bench, case: `${name}, as photographed`, value: errorRate(known, raw.text), unit: 'character error rate' })
  print({ bench, case: `${name}, after clean-up`, value: errorRate(known, text), unit: 'character error rate' })
  print({ bench, case: `${name}, clean-up`, value: cleaning, unit: 'ms' })
  print({ bench, case: `${name}, reading`, value: clean.milliseconds, unit: 'ms', limit: 10_000 })
}
await worker.terminate()
