import { LeftOut } from './broughtIn.js'

const BLANK = '________'
const run = (text: string) => `<w:r><w:t xml:space="preserve">${text}</w:t></w:r>`

/**
 * Makes the blanks of a word-processor document (the XML of WordprocessingML's main part) readable as text: a reader of
 * plain structure would pass over what is only drawn.
 *
 * - tabs in a paragraph whose tab stops have a leader, and underlined runs of nothing but spaces or tabs
 * - text form fields and content controls that show only their placeholder
 * - check boxes become ☐
 */
export function showBlanks(xml: string): string {
  return xml
    .replace(/<w:p[ >][\s\S]*?<\/w:p>/g, (paragraph) => showInParagraph(paragraph))
    .replace(/<w:sdt>([\s\S]*?)<\/w:sdt>/g, (control, inner: string) => {
      if (/<w:showingPlcHdr\b/.test(inner) && !/<w:p[ >]/.test(inner)) return run(BLANK)
      return control
    })
}

/** Signs that no document has: between them stands the number of a list's first item. */
const NUMBER_MARK = ['\uE0F0', '\uE0F1'] as const

/**
 * Marks the numbered items that go on from an earlier one of their list after something else stood between them: a reader
 * of plain structure would begin again at 1. {@link takeListNumbers} makes them the beginnings of lists.
 */
export function markListNumbers(xml: string): string {
  const counts = new Map<string, number>()
  let before: string | null = null
  return xml.replace(/<w:p(?: [^>]*[^/>])?>[\s\S]*?<\/w:p>/g, (paragraph) => {
    const list = /<w:numPr>(?:(?!<\/w:numPr>)[\s\S])*?<w:numId w:val="(\d+)"/.exec(paragraph)?.[1]
    if (!list || list === '0') {
      before = null
      return paragraph
    }
    // Items of lists within belong to the item before them.
    if (Number(/<w:ilvl w:val="(\d+)"/.exec(paragraph)?.[1] ?? 0) > 0) return paragraph
    const number = (counts.get(list) ?? 0) + 1
    counts.set(list, number)
    const goesOn = before === list || number === 1
    before = list
    if (goesOn) return paragraph
    const mark = run(`${NUMBER_MARK[0]}${number}${NUMBER_MARK[1]}`)
    return paragraph.replace(/^<w:p(?: [^>]*)?>(?:<w:pPr>[\s\S]*?<\/w:pPr>)?/, (head) => head + mark)
  })
}

/** The markup of a document with the numbers of {@link markListNumbers} where lists begin with them. */
export const takeListNumbers = (html: string): string =>
  html.replace(/<ol>(<li>(?:<[^>]+>)*)\uE0F0(\d+)\uE0F1/g, '<ol start="$2">$1').replace(/\uE0F0\d+\uE0F1/g, '')

function showInParagraph(paragraph: string): string {
  const hasLeader = /<w:tab\b[^>]*w:leader="(?:dot|underscore|hyphen|middleDot|heavy)"/.test(paragraph)
  return paragraph
    .replace(/<w:r(?: [^>]*)?>(?:(?!<\/w:r>)[\s\S])*?<\/w:r>/g, (one) => {
      const isUnderlined = /<w:u\b(?![^>]*w:val="none")/.test(one)
      const texts = [...one.matchAll(/<w:t(?: [^>]*)?>([^<]*)<\/w:t>/g)].map(([, text]) => text!).join('')
      const tabs = (one.match(/<w:tab\/>/g) ?? []).length
      if (isUnderlined && !texts.trim() && (tabs > 0 || texts.length >= 3))
        return run('_'.repeat(Math.min(60, Math.max(6, texts.length + 8 * tabs))))
      if (hasLeader && tabs > 0) return one.replace(/<w:tab\/>/g, `<w:t xml:space="preserve"> ${BLANK} </w:t>`)
      if (/<w:sym\b[^>]*w:char="F0(?:A8|6F|71)"/.test(one)) return run('☐ ')
      return one
    })
    .replace(
      /<w:fldChar\b[^>]*w:fldCharType="begin"[^>]*>(?:(?!<w:fldChar\b[^>]*"end")[\s\S])*?<w:checkBox>[\s\S]*?<w:fldChar\b[^>]*w:fldCharType="end"\/>/g,
      '<w:t>☐ </w:t>',
    )
    .replace(
      /(<w:instrText[^>]*>\s*FORMTEXT\s*<\/w:instrText>[\s\S]*?<w:fldChar\b[^>]*w:fldCharType="separate"\/><\/w:r>)([\s\S]*?)(<w:r(?: [^>]*)?>(?:<w:rPr>(?:(?!<\/w:rPr>)[\s\S])*<\/w:rPr>)?<w:fldChar\b[^>]*w:fldCharType="end"\/>)/g,
      (whole, before: string, shown: string, after: string) =>
        /<w:t[ >][^<]*[^\s\u2002<][^<]*<\/w:t>/.test(shown) ? whole : `${before}${run(BLANK)}${after}`,
    )
}

/** What a word-processor document has that a worksheet cannot take over, a sentence each. */
export function leftOutOfDocx(names: readonly string[], xml: string): string[] {
  const leftOut = new LeftOut()
  const count = (pattern: RegExp) => (xml.match(pattern) ?? []).length
  const add = (found: number, words: string) => found > 0 && leftOut.add(words, found)
  add(
    names.filter((name) => /vbaProject\.bin$/i.test(name)).length,
    'This document has macros: they were left behind, nothing of them was run.',
  )
  add(count(/<m:oMath>|<m:oMath /g), 'Formulas were left out (#): put them in as formulas in the editor.')
  add(count(/<c:chart\b/g), 'Charts were left out (#): put them in as pictures.')
  add(count(/<dgm:relIds\b/g), 'Diagrams were left out (#): put them in as pictures.')
  add(count(/<w:del /g), 'Deletions that were still to be decided were taken as done (#).')
  add(count(/<w:commentReference\b/g), 'Comments were left behind (#).')
  add(count(/<w:footnoteReference\b/g), 'Footnotes stand at the end of the worksheet now (#).')
  add(
    names.filter((name) => /word\/(header|footer)\d*\.xml$/.test(name)).length ? 1 : 0,
    'What stands above and below each page was left out; where the sheet came from goes into the source line.',
  )
  return leftOut.notes()
}
