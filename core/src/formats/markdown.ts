import { Marked } from 'marked'
import { escapeMarkup } from './escape.js'
import { type MarkupOptions, type MarkupRead, readMarkup } from './markup.js'

/** Formulas between dollar signs; a price is none: no space stands after the first sign or before the last. */
const reader = new Marked({
  gfm: true,
  extensions: [
    {
      name: 'formula',
      level: 'inline',
      start: (text) => text.indexOf('$'),
      tokenizer(text) {
        const found = /^\$\$([^$\n]+)\$\$|^\$(?!\s)([^$\n]+?)(?<!\s)\$(?!\d)/.exec(text)
        return found ? { type: 'formula', raw: found[0], tex: found[1] ?? found[2], large: !!found[1] } : undefined
      },
      renderer: ({ tex, large }) =>
        large
          ? `<div data-tex="${escapeMarkup(String(tex))}"></div>`
          : `<span data-tex="${escapeMarkup(String(tex))}"></span>`,
    },
  ],
})

/** Underlines drawn as blanks are not the marks of Markdown: they must reach the page as they are. */
const STANDS_FOR_UNDERLINE = '\uE05F'
const keepBlanks = (text: string) =>
  text.replaceAll(STANDS_FOR_UNDERLINE, '').replace(/_{3,}/g, (blank) => STANDS_FOR_UNDERLINE.repeat(blank.length))

/** How deep quotes and lists may stand in one another; each level is read anew from its text. */
const LEVELS = 20
const COLUMNS = 4 * LEVELS
const MARKER = /[ \t]*(?:>|[-*+](?=[ \t])|\d{1,9}[.)](?=[ \t]))/y

/** The same text with quotes and lists no deeper than a page can show: what stands deeper stands at the last level. */
function shallow(text: string): string {
  return text.replace(/^[ \t>*+\-\d.)]{40,}/gm, (lead) => {
    let levels = 0
    let at = 0
    let kept = ''
    for (MARKER.lastIndex = 0; ;) {
      const found = MARKER.exec(lead)
      if (!found) break
      at = MARKER.lastIndex
      if (levels++ < LEVELS) kept += found[0].slice(-COLUMNS)
    }
    const rest = lead.slice(at)
    return kept + (/^[ \t]*$/.test(rest) ? rest.slice(0, COLUMNS) : rest)
  })
}

/** Reads Markdown (CommonMark with the usual tables) into a worksheet; a line `---` that stands alone is a page break. */
export function readMarkdown(text: string, options: MarkupOptions): MarkupRead {
  const html = reader.parse(keepBlanks(shallow(text)), { async: false })
  return readMarkup(html.replaceAll(STANDS_FOR_UNDERLINE, '_').replaceAll('<hr>', '<hr class="page-break">'), options)
}
