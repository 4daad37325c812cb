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
const keepBlanks = (text: string) => text.replace(/_{3,}/g, (blank) => '\\_'.repeat(blank.length))

/** Reads Markdown (CommonMark with the usual tables) into a worksheet; a line `---` that stands alone is a page break. */
export function readMarkdown(text: string, options: MarkupOptions): MarkupRead {
  const html = reader.parse(keepBlanks(text), { async: false })
  return readMarkup(html.replaceAll('<hr>', '<hr class="page-break">'), options)
}
