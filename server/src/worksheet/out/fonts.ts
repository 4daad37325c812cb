import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'

const resolve = createRequire(import.meta.url).resolve

interface Face {
  readonly family: string
  readonly weight: string
  readonly file: string
  /** Taken along where a text has letters like these. */
  readonly letters: RegExp
}

const FACES: readonly Face[] = [
  face(
    'Atkinson Hyperlegible Next',
    '200 800',
    '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2',
    /[ -~]/,
  ),
  face(
    'Atkinson Hyperlegible Next Ext',
    '200 800',
    '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2',
    /[\u0100-\u024F\u1E00-\u1EFF]/,
  ),
  face(
    'Noto Sans Greek',
    '100 900',
    '@fontsource-variable/noto-sans/files/noto-sans-greek-wght-normal.woff2',
    /\p{Script=Greek}/u,
  ),
  face(
    'Noto Sans Cyrillic',
    '100 900',
    '@fontsource-variable/noto-sans/files/noto-sans-cyrillic-wght-normal.woff2',
    /\p{Script=Cyrillic}/u,
  ),
  face(
    'Noto Sans Arabic',
    '400',
    '@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-400-normal.woff2',
    /\p{Script=Arabic}/u,
  ),
  face(
    'Noto Sans Hebrew',
    '400',
    '@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff2',
    /\p{Script=Hebrew}/u,
  ),
]

function face(family: string, weight: string, file: string, letters: RegExp): Face {
  return { family, weight, file, letters }
}

/** Style rules that carry the fonts which a page needs, so that it prints the same where none is installed. */
export async function fontRules(page: string): Promise<string> {
  const needed = FACES.filter(({ letters }) => letters.test(page))
  const rules = await Promise.all(
    needed.map(async ({ family, weight, file }) => {
      const data = (await readFile(resolve(file))).toString('base64')
      return `@font-face{font-family:"${family}";font-weight:${weight};src:url(data:font/woff2;base64,${data}) format("woff2")}`
    }),
  )
  const families = [...needed.map(({ family }) => `"${family}"`), 'sans-serif'].join(',')
  return `${rules.join('')}body{font-family:${families}}`
}
