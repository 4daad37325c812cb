import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'

const resolve = createRequire(import.meta.url).resolve

/** The style sheets of the fonts we ship, in the order in which a letter is looked for in them. Each is cut into files by letters. */
const TEXT = [
  '@fontsource-variable/atkinson-hyperlegible-next/wght.css',
  '@fontsource-variable/noto-sans/wght.css',
  '@fontsource/noto-sans-arabic/400.css',
  '@fontsource/noto-sans-hebrew/400.css',
] as const
const HEADINGS = '@fontsource/zilla-slab/600.css'
const CHINESE = '@fontsource/noto-sans-sc/400.css'
const JAPANESE = '@fontsource/noto-sans-jp/400.css'
const KOREAN = '@fontsource/noto-sans-kr/400.css'
const EMOJI = '@fontsource/noto-emoji/400.css'

interface Face {
  readonly family: string
  readonly weight: string
  readonly file: string
  readonly ranges: string
}

const sheets = new Map<string, Promise<readonly Face[]>>()

/** The faces of a font package, each with the letters that are in it. */
function facesOf(sheet: string): Promise<readonly Face[]> {
  let read = sheets.get(sheet)
  if (!read) {
    read = readFaces(sheet)
    sheets.set(sheet, read)
  }
  return read
}

async function readFaces(sheet: string): Promise<readonly Face[]> {
  const path = resolve(sheet)
  const rules = (await readFile(path, 'utf8')).matchAll(/@font-face\s*\{([^}]*)\}/g)
  return [...rules].map(([, rule = '']) => {
    const value = (name: string) => new RegExp(`${name}:\\s*([^;]+);`).exec(rule)?.[1]?.trim() ?? ''
    return {
      family: value('font-family').replace(/^['"]|['"]$/g, ''),
      weight: value('font-weight'),
      file: join(dirname(path), /url\(([^)]+\.woff2)\)/.exec(value('src'))![1]!),
      // Where nothing is said, all are in it.
      ranges: value('unicode-range') || 'U+0-10FFFF',
    }
  })
}

/** Whether one of the letters is among those of `U+4-9,U+20`. */
function hasOne(ranges: string, letters: readonly number[]): boolean {
  return ranges.split(',').some((range) => {
    const [, first = '', last = first] = /U\+([0-9a-f]+)(?:-([0-9a-f]+))?/i.exec(range) ?? []
    const from = Number.parseInt(first, 16)
    const to = Number.parseInt(last, 16)
    return letters.some((letter) => letter >= from && letter <= to)
  })
}

/** The same sign is written in other ways in China, Japan and Korea: the language that the text shows comes first. */
function eastern(page: string): string[] {
  if (/[\u3040-\u30FF]/.test(page)) return [JAPANESE, CHINESE, KOREAN]
  if (/\p{Script=Hangul}/u.test(page)) return [KOREAN, CHINESE, JAPANESE]
  return [CHINESE, JAPANESE, KOREAN]
}

/**
 * Style rules that carry the fonts which a page needs, so that it prints the same where none is installed: of each font only
 * the files that have letters of the page.
 */
export async function fontRules(page: string): Promise<string> {
  const words = page.replace(/data:[a-z0-9/+.-]+;base64,[A-Za-z0-9+/=]+/gi, '')
  const letters = [...new Set(Array.from(words, (letter) => letter.codePointAt(0)!))].filter((letter) => letter >= 0x20)
  const missing = new Set(letters)
  const rules: string[] = []
  const families: string[] = []
  for (const sheet of [HEADINGS, ...TEXT, EMOJI, ...eastern(words)]) {
    const wanted = sheet === HEADINGS ? letters : [...missing]
    const needed = (await facesOf(sheet)).filter(({ ranges }) => hasOne(ranges, wanted))
    for (const { family, weight, file, ranges } of needed) {
      const data = (await readFile(file)).toString('base64')
      rules.push(
        `@font-face{font-family:"${family}";font-weight:${weight};unicode-range:${ranges};src:url(data:font/woff2;base64,${data}) format("woff2")}`,
      )
      if (sheet === HEADINGS) continue
      if (!families.includes(`"${family}"`)) families.push(`"${family}"`)
      for (const letter of missing) if (hasOne(ranges, [letter])) missing.delete(letter)
    }
  }
  const text = [...families, 'sans-serif'].join(',')
  return `${rules.join('')}body{font-family:${text}}h1,h2,h3,h4{font-family:"Zilla Slab",${text};font-weight:600}@page{font-family:${text}}`
}
