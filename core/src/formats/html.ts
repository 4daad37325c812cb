import { languageOf } from '../worksheet/language.js'
import {
  type AnswerSpace,
  type Block,
  type PictureBlock,
  type RichNode,
  type TableBlock,
  type WorksheetContent,
  isAnswerSpace,
  pageMillimetres,
} from '../worksheet/content.js'
import { drawnSpace } from '../worksheet/kinds/index.js'
import { keyWords } from '../worksheet/key.js'
import { pointWords } from '../worksheet/words.js'
import { pictureLayout } from '../worksheet/pictureLayout.js'
import { escapeMarkup as esc } from './escape.js'

export interface PageOptions {
  readonly title: string
  readonly content: WorksheetContent
  /** With the key in the answer spaces. */
  readonly key: boolean
  /** The colour of answers, as in CSS. */
  readonly ink: string
  /** The address of a medium: of its own, or its bytes as a data address. */
  readonly mediaUrl: (id: string) => string
  /** A formula as markup. */
  readonly formula: (tex: string, large: boolean) => string
}

/** A worksheet as a web page that stands by itself and prints cleanly. Nothing in it runs or is fetched. */
export function writeHtml(options: PageOptions): string {
  const { title, content } = options
  const source = content.source ? `<footer class="source">${esc(content.source)}</footer>` : ''
  return `<!doctype html>
<html lang="${esc(languageOf(content) || 'und')}">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src data:; font-src data:; style-src 'unsafe-inline'">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${esc(title)}</title>
<style>${style(content, options.ink)}</style>
</head>
<body>
<main>
${content.blocks.map((block) => blockHtml(block, options)).join('\n')}
</main>
${source}
</body>
</html>
`
}

const COLOURS: Readonly<Record<string, string>> = {
  kelp: '#1D6B5F',
  brass: '#96690F',
  signal: '#A93A22',
  tide: '#2A5CA8',
  soft: '#55616E',
}

/** The colour of print by its name, as in CSS. */
export const printColour = (name: unknown): string => COLOURS[String(name)] ?? 'inherit'

/** A text as a value in a style rule, which stands in a page. */
const cssText = (text: string) =>
  `"${text.replace(/[^A-Za-z0-9 .,:;–—-]/gu, (sign) => `\\${sign.codePointAt(0)!.toString(16)} `)}"`

function style({ page, source }: WorksheetContent, ink: string): string {
  const { width, height } = pageMillimetres(page)
  // In the margin of every page, where nothing else stands.
  const foot = source
    ? ` @bottom-left { content: ${cssText(source)}; width: 100%; font-size: 8.5pt; line-height: 1.25; color: #55616E; vertical-align: top; padding-top: 2.5mm; text-align: start } `
    : ''
  return `@page { size: ${width}mm ${height}mm; margin: 16mm 18mm 18mm;${foot}}
body { font: 12pt/1.45 "Atkinson Hyperlegible Next", "Noto Sans", Arial, sans-serif; color: #1C2733; margin: 0 auto; max-width: ${width - 36}mm }
h1, h2, h3, h4 { font-family: "Zilla Slab", Georgia, "Noto Sans", serif; line-height: 1.2; margin: 1em 0 .4em; break-after: avoid }
p { margin: 0 0 .5em }
main > p { margin-top: .9em }
img { display: block }
.picture { position: relative; overflow: hidden; break-inside: avoid }
.picture span { position: absolute; overflow: hidden }
.picture img { position: absolute }
.drawing img { width: 100% }
table { border-collapse: collapse; width: 100%; margin: .6em 0; break-inside: avoid }
td, th { border: 1px solid #8d8676; padding: 4px 7px; text-align: start; vertical-align: top; min-width: 2.5em; height: 1.6em }
.space { color: ${ink}; break-inside: avoid }
.line { border-bottom: 1.2px solid #55616E; min-height: 1.9em; display: block }
.line.short { width: 45% }
.passage { border: 1px solid #8d8676; padding: 4px 8px; white-space: pre-wrap }
.number { border-bottom: 1.2px solid #55616E; min-width: 8em; min-height: 1.7em; display: inline-block }
.gap { border-bottom: 1.2px solid #55616E; display: inline-block; min-height: 1.2em; color: ${ink} }
.drawing { border: 1px solid #8d8676; position: relative }
.options { list-style: none; padding: 0; margin: .2em 0 .5em; color: #1C2733 }
.right { color: ${ink}; font-weight: bold }
.points, .unit, .file { color: #55616E; font-size: .85em }
.link { border: 1px solid #8d8676; padding: 6px 10px }
.break { break-after: page }
.backdrop { position: relative; break-inside: avoid; break-after: page; margin: 0 auto }
.backdrop img { width: 100%; height: 100% }
.backdrop .space { position: absolute; overflow: hidden; font-size: .9em }
.backdrop .points { position: absolute; right: 2px; bottom: 0; font-size: .75em }
.source { color: #55616E; font-size: 8.5pt; margin-top: 2em }
@media print { .source { display: none } }
@media screen { body { padding: 24px } }
`
}

function blockHtml(block: Block, options: PageOptions): string {
  switch (block.kind) {
    case 'text':
      return richHtml(block.rich, options)
    case 'picture':
      return pictureHtml(block, options)
    case 'page break':
      return '<div class="break"></div>'
    case 'link':
      return `<p class="link"><a href="${esc(block.url)}">${esc(block.title || block.url)}</a>${block.note ? `<br>${esc(block.note)}` : ''}</p>`
    case 'table':
      return tableHtml(block, options)
    case 'backdrop': {
      const percent = (share: number) => `${(100 * share).toFixed(3)}%`
      const spaces = block.spaces.map(
        ({ box, space }) =>
          `<div class="space" style="left:${percent(box.x)};top:${percent(box.y)};width:${percent(box.width)};height:${percent(box.height)}">${placedHtml(space, options)}</div>`,
      )
      return `<div class="backdrop" style="aspect-ratio:${block.width}/${block.height}"><img src="${esc(options.mediaUrl(block.media))}" alt="${esc(block.alt)}">${spaces.join('')}</div>`
    }
    case 'section':
      return `<section>${block.title ? `<h2>${esc(block.title)}</h2>` : ''}${block.blocks.map((inner) => blockHtml(inner, options)).join('\n')}</section>`
    default:
      return isAnswerSpace(block) ? `<div class="space">${spaceHtml(block, options)}</div>` : ''
  }
}

function pictureHtml(block: PictureBlock, { mediaUrl }: PageOptions): string {
  const { aspect, frame, picture } = pictureLayout(block)
  const margin = block.place === 'middle' ? '0 auto' : block.place === 'end' ? '0 0 0 auto' : '0'
  const turn = `left:50%;top:50%;transform:translate(-50%,-50%) rotate(${block.turn}deg)`
  const percents = (sizes: Readonly<Record<string, number>>) =>
    Object.entries(sizes)
      .map(([name, size]) => `${name}:${size.toFixed(3)}%`)
      .join(';')
  return `<figure class="picture" style="width:${block.width}%;aspect-ratio:${aspect.toFixed(5)};margin:${margin}"><span style="${percents({ ...frame })};${turn}"><img src="${esc(mediaUrl(block.media))}" alt="${esc(block.alt)}" style="${percents({ ...picture })}"></span></figure>`
}

function tableHtml(table: TableBlock, options: PageOptions): string {
  const rows = table.rows.map((row) => {
    const cells = row.map(({ across, down, head, rich, space, formula }) => {
      const tag = head ? 'th' : 'td'
      const spans = `${across > 1 ? ` colspan="${across}"` : ''}${down > 1 ? ` rowspan="${down}"` : ''}`
      const inside = space
        ? `<span class="space">${options.key ? wordsHtml(space) : ''}${pointsHtml(space)}</span>`
        : formula !== null
          ? `<span class="points">${esc(options.key ? `= ${formula}` : '')}</span>`
          : rich.map((node) => richHtml(node, options)).join('')
      return `<${tag}${spans}>${inside}</${tag}>`
    })
    return `<tr>${cells.join('')}</tr>`
  })
  return `<table>${rows.join('')}</table>`
}

/** How tall an answer space is drawn in a box is the box's matter. */
function placedHtml(space: AnswerSpace, options: PageOptions): string {
  if (!options.key && drawnSpace(space).is === 'options') return spaceHtml(space, options)
  return `${options.key ? wordsHtml(space) : ''}${pointsHtml(space)}`
}

/** What stands in an answer space, in its lines. */
const wordsHtml = (space: AnswerSpace) => esc(keyWords(space)).replaceAll('\n', '<br>')

const pointsHtml = (space: AnswerSpace) =>
  space.points === undefined ? '' : ` <span class="points">(${pointWords(space.points)})</span>`

function spaceHtml(space: AnswerSpace, { key, mediaUrl }: PageOptions): string {
  const words = key ? wordsHtml(space) : ''
  const points = pointsHtml(space)
  const label = space.label ? `<div>${esc(space.label)}</div>` : ''
  const drawn = drawnSpace(space)
  switch (drawn.is) {
    case 'blank':
      return drawn.size === 'number'
        ? `${label}<span class="number">${words}</span> <span class="unit">${esc(drawn.unit)}</span>${points}`
        : `${label}<span class="line ${drawn.size}">${words}</span>${points}`
    case 'lines':
      return `${label}<div class="passage" style="min-height:${(drawn.lines * 1.6).toFixed(1)}em">${words || esc(drawn.starter)}</div>${points}`
    case 'options': {
      const [empty, chosen] = drawn.many ? ['☐', '☒'] : ['○', '◉']
      const options = drawn.options.map(({ id, text }) => {
        const isRight = key && drawn.right.includes(id)
        return `<li${isRight ? ' class="right"' : ''}>${isRight ? chosen : empty} ${esc(text)}</li>`
      })
      return `${label}<ul class="options">${options.join('')}</ul>${points}`
    }
    case 'canvas':
      return `${label}<div class="drawing" style="aspect-ratio:100/${drawn.height}">${drawn.ground ? `<img src="${esc(mediaUrl(drawn.ground))}" alt="">` : ''}${words}</div>${points}`
    case 'request':
      return `${label}<p class="file">Hand in: ${esc(drawn.what)}</p>${words}${points}`
  }
}

function richHtml(node: RichNode, options: PageOptions): string {
  if (node.type === 'text') return markedHtml(node)
  if (node.type === 'hardBreak') return '<br>'
  if (node.type === 'formula') return options.formula(String(node.attrs!['tex']), node.attrs!['large'] === true)
  if (node.type === 'gap') {
    const space = node.attrs!['space'] as AnswerSpace & { readonly width: number }
    return `<span class="gap" style="min-width:${(space.width * 0.62).toFixed(1)}em">${options.key ? wordsHtml(space) : ''}</span>${pointsHtml(space)}`
  }
  const inner = (node.content ?? []).map((child) => richHtml(child, options)).join('')
  switch (node.type) {
    case 'heading':
      return `<h${Number(node.attrs!['level'])} dir="auto">${inner}</h${Number(node.attrs!['level'])}>`
    case 'bulletList':
      return `<ul>${inner}</ul>`
    case 'orderedList':
      return `<ol start="${Number(node.attrs?.['start'] ?? 1)}">${inner}</ol>`
    case 'listItem':
      return `<li>${inner}</li>`
    default:
      return `<p dir="auto">${inner}</p>`
  }
}

const TAGS: Readonly<Record<string, string>> = { bold: 'strong', italic: 'em', underline: 'u', sub: 'sub', sup: 'sup' }

function markedHtml({ text = '', marks = [] }: RichNode): string {
  return marks.reduce((inner, { type, attrs }) => {
    if (type === 'link') return `<a href="${esc(String(attrs!['href']))}">${inner}</a>`
    if (type === 'colour') return `<span style="color:${printColour(attrs!['name'])}">${inner}</span>`
    const tag = TAGS[type]
    return tag ? `<${tag}>${inner}</${tag}>` : inner
  }, esc(text))
}
