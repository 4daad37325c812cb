import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { checkContent } from '../worksheet/check.js'
import type { Block, WorksheetContent } from '../worksheet/content.js'
import { anyContent, content, counting, table, text } from '../worksheet/testing/samples.js'
import { answerSpaces, mediaOf } from '../worksheet/walk.js'
import { blockWords } from '../worksheet/words.js'
import { type ArchiveMedium, readArchive, writeArchive } from './archive.js'
import { documentKind } from './documentKind.js'
import { markListNumbers, showBlanks, takeListNumbers } from './docxPrepare.js'
import { writeHtml } from './html.js'
import { readMarkdown } from './markdown.js'
import { readMarkup } from './markup.js'
import { readOdt } from './odt.js'
import { writeOdt } from './odtOut.js'
import { type PageText, readPageTexts } from './pdfText.js'
import { readPlainText } from './plainText.js'
import { proposeSpaces } from '../worksheet/blanks.js'

const options = () => ({
  newId: counting(),
  pictureKey: (address: string) => (address.startsWith('ours') ? address : null),
})
const html = (markup: string) => readMarkup(markup, options())
const markdown = (text: string) => readMarkdown(text, options())
const kinds = ({ blocks }: Pick<WorksheetContent, 'blocks'>) =>
  blocks.map((block) => (block.kind === 'text' ? block.rich.type : block.kind))
const medium = (id: string): ArchiveMedium => ({
  id,
  type: 'image/png',
  width: 4,
  height: 3,
  bytes: new Uint8Array([1, 2, 3, id.length]),
})

describe('markup', () => {
  test('headings, paragraphs, lists in lists, marks and links', () => {
    const { content: read, title } = html(
      '<title>Ropes</title><h2>Knots</h2><p>A <b>bow<i>line</i></b> and H<sub>2</sub>O, <a href="https://x.example/y">see</a>.</p><ul><li>one<ol start="3"><li>inner</li></ol></li><li>two</li></ul>',
    )
    expect(title).toBe('Ropes')
    expect(kinds(read)).toEqual(['heading', 'paragraph', 'bulletList'])
    expect(JSON.stringify(read)).toContain('"start":3')
    expect(read.blocks[1]).toMatchObject({
      rich: {
        content: expect.arrayContaining([
          { type: 'text', text: 'line', marks: [{ type: 'bold' }, { type: 'italic' }] },
          { type: 'text', text: 'see', marks: [{ type: 'link', attrs: { href: 'https://x.example/y' } }] },
        ]),
      },
    })
  })
  test('sizes and fonts stay behind; a whole paragraph made large is no heading', () => {
    expect(html('<p style="font-size:90px">tiny?</p>').content.blocks[0]).toMatchObject({ rich: { type: 'paragraph' } })
    expect(kinds(html(`<h1>${'long '.repeat(60)}</h1>`).content)).toEqual(['paragraph'])
  })
  test('tables keep cells that cover others; a frame of one cell is opened', () => {
    const { content: read } = html(
      '<table><tr><th colspan="2">Rope</th></tr><tr><td rowspan="9">hemp</td><td><p>3 mm</p><p>new</p></td></tr></table><table><tr><td>Only a frame</td></tr></table>',
    )
    expect(kinds(read)).toEqual(['table', 'paragraph'])
    expect(read.blocks[0]).toMatchObject({ rows: [[{ across: 2, head: true }], [{ down: 1 }, { rich: [{}, {}] }]] })
  })
  test('pictures of ours are taken with their text, others are not fetched', () => {
    const { content: read, notes } = html(
      '<p>a<img src="ours1" alt="a rope" width="320">b</p><img src="//elsewhere.example/x.png"><img src="file:///etc/x">',
    )
    expect(kinds(read)).toEqual(['paragraph', 'picture', 'paragraph'])
    expect(read.blocks[1]).toMatchObject({ media: 'ours1', alt: 'a rope', width: 50 })
    expect(notes).toHaveLength(2)
  })
  test('nothing that runs comes in', () => {
    const { content: read, notes } = html(
      '<script>x()</script><p onclick="x()">a</p><iframe src="y"></iframe><a href=" javascript:x()">go</a><svg onload="x()"></svg>',
    )
    expect(JSON.stringify(read)).not.toMatch(/javascript|onclick|x\(\)/)
    expect(notes.join(' ')).toContain('removed (4)')
  })
  test('right-to-left text is text like any other', () => {
    expect(blockWords(html('<p dir="rtl">متى يكون المد؟ ______</p>').content.blocks[0]!)).toBe('متى يكون المد؟ ______')
  })
  test('whatever the markup, what comes out is a sound worksheet', () => {
    const piece = fc.constantFrom(
      '<p>',
      '</p>',
      '<ul>',
      '<li>',
      '</ul>',
      '<table>',
      '<tr>',
      '<td colspan=99>',
      '</table>',
      '<h1>',
      '<b>',
      'tide',
      ' ',
      '<br>',
      '<img src=ours>',
      '<input>',
      '<select><option>a<option>b</select>',
      '<textarea>',
      '</td>',
      '&nbsp;',
      '<div>',
      '<hr>',
      '<ol start=-4>',
      '<!--',
      '-->',
    )
    fc.assert(
      fc.property(
        fc.array(piece, { maxLength: 40 }),
        (pieces) => void expect(checkContent(html(pieces.join('')).content).ok).toBe(true),
      ),
      { numRuns: 400 },
    )
  })
  test('markup nested without end does not take the program down', () => {
    expect(checkContent(html('<div>'.repeat(20_000) + 'deep').content).ok).toBe(true)
    expect(checkContent(html('<ul><li>'.repeat(500) + 'deep').content).ok).toBe(true)
  })
})

describe('Markdown and plain text', () => {
  // Each took from seconds to for ever, or more room than there is.
  test.each<[string, () => { content: WorksheetContent }]>([
    ['half a million underlines', () => readPlainText(`${'_'.repeat(500_000)}x`, counting())],
    ['underlines and words', () => readPlainText(`${'_'.repeat(99)} x `.repeat(500), counting())],
    [
      'lists in lists by indentation',
      () => markdown(Array.from({ length: 2_000 }, (_, at) => `${'  '.repeat(at)}- x`).join('\n')),
    ],
    ['lists in lists on one line', () => markdown(`${'- '.repeat(50_000)}x`)],
    ['quotes in quotes', () => markdown(`${'>'.repeat(50_000)} x`)],
    ['elements in elements', () => html(`<p>before</p>${'<div>'.repeat(200_000)}x`)],
    ['lists in lists of markup', () => html(`<p>before</p>${'<ul><li>'.repeat(100_000)}x`)],
  ])(
    '%s become a sound worksheet',
    (_, read) => {
      const { content } = read()
      let more = 0
      const { blocks } = proposeSpaces(content, () => `more${more++}`)
      expect(blocks.length).toBeGreaterThan(0)
      expect(checkContent({ ...content, blocks }).ok).toBe(true)
    },
    20_000,
  )

  test('lists that a page can show stay as deep as they are', () => {
    const read = markdown('- a\n    - b\n        - c\n            - d')
    expect(JSON.stringify(read.content.blocks).match(/bulletList/g)).toHaveLength(4)
  })

  test('formulas between dollar signs, prices as they are, blanks as they are drawn', () => {
    const { content: read } = readMarkdown(
      'A rope costs $5 or $7. Speed is $v=\\frac{s}{t}$.\n\n$$E=mc^2$$\n\nName: ________ and **bold**',
      options(),
    )
    expect(JSON.stringify(read)).toContain('"tex":"v=\\\\frac{s}{t}","large":false')
    expect(JSON.stringify(read)).toContain('"tex":"E=mc^2","large":true')
    expect(read.blocks.map(blockWords).join(' ')).toContain('costs $5 or $7.')
    expect(read.blocks.map(blockWords).join(' ')).toContain('Name: ________ and bold')
  })
  test('plain text: a heading, paragraphs, lists, lines to write on', () => {
    const { content: read, title } = readPlainText(
      'Tides\n\nFirst line\nsecond line\n\n1) one\n2) two\n\n__________\n\r\nlast',
      counting(),
    )
    expect(title).toBe('Tides')
    expect(kinds(read)).toEqual(['heading', 'paragraph', 'orderedList', 'paragraph', 'paragraph'])
  })
  test('any text is a sound worksheet', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300, unit: 'binary' }), (some) => {
        expect(checkContent(readPlainText(some, counting()).content).ok).toBe(true)
        expect(checkContent(readMarkdown(some, options()).content).ok).toBe(true)
      }),
    )
  })
})

describe('blanks that word processors only draw', () => {
  const run = (inner: string, properties = '') => `<w:r>${properties && `<w:rPr>${properties}</w:rPr>`}${inner}</w:r>`
  const words = (xml: string) =>
    [...showBlanks(xml).matchAll(/<w:t[^>]*>([^<]*)<\/w:t>/g)].map(([, found]) => found).join('')
  test.each([
    [
      'a tab with a dotted leader',
      `<w:p><w:pPr><w:tabs><w:tab w:val="right" w:leader="dot" w:pos="9"/></w:tabs></w:pPr>${run('<w:t>Name</w:t>')}${run('<w:tab/>')}</w:p>`,
      /^Name ________ $/,
    ],
    ['a tab without one', `<w:p>${run('<w:t>Name</w:t>')}${run('<w:tab/>')}</w:p>`, /^Name$/],
    [
      'underlined spaces',
      `<w:p>${run('<w:t xml:space="preserve">        </w:t>', '<w:u w:val="single"/>')}</w:p>`,
      /^_{8}$/,
    ],
    ['underlined words', `<w:p>${run('<w:t>tide</w:t>', '<w:u w:val="single"/>')}</w:p>`, /^tide$/],
    ['spaces whose line was taken off', `<w:p>${run('<w:t>        </w:t>', '<w:u w:val="none"/>')}</w:p>`, /^ {8}$/],
    [
      'a control that shows its placeholder',
      `<w:p><w:sdt><w:sdtPr><w:showingPlcHdr/></w:sdtPr><w:sdtContent>${run('<w:t>Click here</w:t>')}</w:sdtContent></w:sdt></w:p>`,
      /^________$/,
    ],
    [
      'a control that was filled in',
      `<w:p><w:sdt><w:sdtPr/><w:sdtContent>${run('<w:t>Quay</w:t>')}</w:sdtContent></w:sdt></w:p>`,
      /^Quay$/,
    ],
  ])('%s', (_, xml, shown) => expect(words(xml)).toMatch(shown))
})

describe('the text of a PDF', () => {
  const line = (words: string, y: number, more: Partial<PageText> = {}): PageText => ({
    text: words,
    x: 50,
    y,
    width: words.length * 6,
    size: 12,
    bold: false,
    ...more,
  })
  test('lines that follow each other are a paragraph, larger ones headings, pages are parted', () => {
    const long = 'The tide falls twice a day and rises twice, and nobody in the har-'
    const { content: read, title } = readPageTexts(
      [
        [line(long, 100), line('bour minds.', 115), line('Tides', 60, { size: 24 }), line('1. Why?', 140)],
        [line('Next page.', 60)],
      ],
      counting(),
    )
    expect(title).toBe('Tides')
    expect(kinds(read)).toEqual(['heading', 'paragraph', 'paragraph', 'page break', 'paragraph'])
    expect(blockWords(read.blocks[1]!)).toBe(
      'The tide falls twice a day and rises twice, and nobody in the harbour minds.',
    )
  })
  test('pieces of one line are put together in their order', () => {
    const { content: read } = readPageTexts(
      [[line('water', 100, { x: 120, width: 30 }), line('High', 100.4, { x: 50, width: 24 })]],
      counting(),
    )
    expect(blockWords(read.blocks[0]!)).toMatch(/^High +water$/)
  })
})

describe('the archive', () => {
  test('any worksheet comes back as it was', () => {
    fc.assert(
      fc.property(anyContent, fc.string({ maxLength: 80 }), (some, title) => {
        const archive = { title, content: some, media: mediaOf(some).map(medium) }
        expect(readArchive(writeArchive(archive))).toEqual({ ok: true, value: archive })
      }),
    )
  })
  test('the same worksheet gives the same bytes', () => {
    const archive = { title: 'T', content: content(text('a', 'x')), media: [] }
    expect(writeArchive(archive)).toEqual(writeArchive(archive))
  })
  test.each<[string, Record<string, Uint8Array>]>([
    ['no worksheet in it', { 'a.txt': strToU8('a') }],
    ['no JSON', { 'worksheet.json': strToU8('{') }],
    ['another format', { 'worksheet.json': strToU8('{"format":"other"}') }],
    ['a newer version', { 'worksheet.json': strToU8('{"format":"gavrin-worksheet","version":9}') }],
    [
      'a picture that is missing',
      {
        'worksheet.json': strToU8(
          JSON.stringify({
            format: 'gavrin-worksheet',
            version: 1,
            title: '',
            content: content({ id: 'd', kind: 'drawing', height: 50, ground: 'gone' }),
            media: [{ id: 'gone', file: '__proto__', type: 'image/png' }],
          }),
        ),
      },
    ],
  ])('%s is refused in a sentence', (_, files) => {
    const read = readArchive(zipSync(files))
    expect(read.ok ? '' : read.problems[0]!.sentence).toMatch(/\.$/)
  })
  test('arbitrary bytes are refused, never more', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
        expect(readArchive(bytes).ok).toBe(false)
        expect(readOdt(bytes).ok).toBe(false)
        documentKind(bytes, 'x')
      }),
    )
  })
})

describe('numbered lists with places under their questions', () => {
  /** Lists as their numbers, all else by its kind. */
  const numbers = ({ blocks }: Pick<WorksheetContent, 'blocks'>) =>
    blocks.map((block) =>
      block.kind === 'text' && block.rich.type === 'orderedList'
        ? block.rich.content!.map((_, at) => Number(block.rich.attrs!['start']) + at)
        : block.kind,
    )
  test('of a web page: fields within the items stand under them, and the numbers go on', () => {
    const { content: read } = html(
      '<ol><li>Why? <textarea></textarea></li><li>Where?<ul><li>here <textarea></textarea></li></ul></li><li>When?</li></ol>',
    )
    expect(numbers(read)).toEqual([[1], 'passage', [2], 'passage', [3]])
    expect(checkContent(read).ok).toBe(true)
  })
  test('blank lines at the end of an item are lines under it, also in a list that begins at a number', () => {
    const { content: read } = html(
      '<ol start="4"><li>Why?<p>____________________________________</p><p>____________________________________</p></li><li>Where? ______</li><li>When?</li></ol>',
    )
    const proposed = proposeSpaces(read, counting())
    expect(numbers(proposed)).toEqual([[4], 'passage', [5, 6]])
    expect(answerSpaces(proposed).map(({ kind }) => kind)).toEqual(['passage', 'gap'])
    expect(checkContent(proposed).ok).toBe(true)
  })
  test('of a word processor, parted by other paragraphs, they go on as they did there', () => {
    const item = (list: number, words: string, level = 0) =>
      `<w:p><w:pPr><w:numPr><w:ilvl w:val="${level}"/><w:numId w:val="${list}"/></w:numPr></w:pPr><w:r><w:t>${words}</w:t></w:r></w:p>`
    const plain = '<w:p w:rsidR="1"/><w:p><w:r><w:t>____</w:t></w:r></w:p>'
    const marked = markListNumbers(
      item(1, 'Why?') +
        item(1, 'a') +
        plain +
        item(1, 'Where?') +
        item(1, 'inner', 1) +
        item(1, 'How?') +
        plain +
        item(2, 'New'),
    )
    expect([...marked.matchAll(/\uE0F0(\d+)\uE0F1/g)].map(([, number]) => number)).toEqual(['3'])
    expect(marked).toContain('</w:pPr><w:r><w:t xml:space="preserve">\uE0F03')
    expect(takeListNumbers('<ol><li><strong>\uE0F03\uE0F1Where?</strong></li></ol><p>\uE0F09\uE0F1x</p>')).toBe(
      '<ol start="3"><li><strong>Where?</strong></li></ol><p>x</p>',
    )
  })
  test('written out as OpenDocument and read again they have the numbers they had', () => {
    const list = (id: string, start: number, ...words: string[]): Block => ({
      id,
      kind: 'text',
      rich: {
        type: 'orderedList',
        attrs: { start },
        content: words.map((word) => ({
          type: 'listItem',
          content: [{ type: 'paragraph', content: [{ type: 'text', text: word }] }],
        })),
      },
    })
    const sheet = content(
      list('a', 1, 'Why?'),
      { id: 'l', kind: 'line', width: 'full' },
      list('b', 2, 'Where?', 'How?'),
      list('c', 7, 'When?'),
    )
    const read = readOdt(writeOdt('T', sheet, [], { key: false }))
    if (!read.ok) throw new Error('not read')
    expect(numbers(readMarkup(read.value.html, options()).content)).toEqual([[1], 'text', [2, 3], [7]])
  })
})

describe('worksheets written out', () => {
  const sheet = content(
    text('t', 'Tide <b>& sea</b> ', {
      type: 'gap',
      attrs: { space: { id: 'g', kind: 'gap', width: 8, accepted: ['ebb'] } },
    }),
    table('tb', ['a', { head: true }], [{ across: 2, space: { id: 'c', kind: 'cell', numeric: true, value: '4' } }]),
    { id: 'l', kind: 'line', width: 'full', accepted: ['slack water'] },
    {
      id: 'ch',
      kind: 'choice',
      many: true,
      options: [
        { id: '1', text: 'one' },
        { id: '2', text: 'two' },
      ],
      right: ['2'],
    },
    {
      id: 'p',
      kind: 'picture',
      media: 'm',
      alt: '"quoted"',
      pixelWidth: 4,
      pixelHeight: 3,
      width: 50,
      turn: 90,
      crop: { x: 0, y: 0, width: 0.5, height: 1 },
      place: 'end',
    },
  )
  const page = (key: boolean, some: WorksheetContent = sheet) =>
    writeHtml({
      title: 'A "title"',
      content: { ...some, source: 'From <there>' },
      key,
      ink: '#00f',
      mediaUrl: (id) => `data:${id}`,
      formula: () => 'F',
    })
  test('as a web page: nothing of the text is markup, the key is in it only when wanted', () => {
    expect(page(false)).toContain('Tide &lt;b&gt;&amp; sea&lt;/b&gt;')
    expect(page(false)).toContain('From &lt;there&gt;')
    expect(page(false)).not.toContain('slack water')
    for (const key of ['ebb', 'slack water', '☒ two']) expect(page(true)).toContain(key)
  })
  test('the source line stands in the margin of every page, as it is written', () => {
    expect(page(false)).toMatch(/@page \{[^}]*@bottom-left \{ content: "From \\3c there\\3e "/)
    expect(page(false, { ...sheet, source: '' })).toContain('@bottom-left')
    const plain = writeHtml({
      title: 'T',
      content: sheet,
      key: false,
      ink: '#00f',
      mediaUrl: String,
      formula: () => '',
    })
    expect(plain).not.toContain('@bottom-left')
  })
  test('points are said at every kind of space, in every format', () => {
    const all = content(
      text('t', 'Tide ', { type: 'gap', attrs: { space: { id: 'g', kind: 'gap', width: 8, points: 1 } } }),
      table('tb', ['a', { head: true }], ['b', { space: { id: 'c', kind: 'cell', numeric: true, points: 2 } }]),
      { id: 'l', kind: 'line', width: 'full', points: 3 },
      { id: 'p', kind: 'passage', lines: 2, points: 4 },
      { id: 'n', kind: 'number', unit: 'm', points: 5 },
      {
        id: 'ch',
        kind: 'choice',
        many: false,
        options: [
          { id: '1', text: 'o' },
          { id: '2', text: 'p' },
        ],
        points: 6,
      },
      { id: 'd', kind: 'drawing', height: 40, ground: null, points: 0 },
      { id: 'f', kind: 'file', most: 1, points: 8 },
    )
    const said = ['(1 point)', ...[2, 3, 4, 5, 6, 0, 8].map((points) => `(${points} points)`)]
    const odt = strFromU8(unzipSync(writeOdt('T', all, [], { key: false }))['content.xml']!)
    for (const words of said) for (const out of [page(false, all), page(true, all), odt]) expect(out).toContain(words)
  })
  test('any worksheet can be written as a page and as OpenDocument, and read again', () => {
    fc.assert(
      fc.property(anyContent, (some) => {
        expect(page(true, some)).toContain('</html>')
        const read = readOdt(writeOdt('T', some, mediaOf(some).map(medium), { key: true }))
        expect(read.ok).toBe(true)
        if (read.ok)
          expect(
            checkContent(
              readMarkup(read.value.html, {
                newId: counting(),
                pictureKey: (address) => address.replace(/[^a-z0-9]/gi, ''),
              }).content,
            ).ok,
          ).toBe(true)
      }),
      { numRuns: 60 },
    )
  })
  test('OpenDocument read again has the print, the table with its cells, and blanks for the spaces', () => {
    const read = readOdt(writeOdt('T', sheet, [medium('m')], { key: false }))
    if (!read.ok) throw new Error('not read')
    const { content: again } = readMarkup(read.value.html, options())
    expect(kinds(again)).toContain('table')
    expect(again.blocks.map((block: Block) => blockWords(block)).join(' ')).toContain('Tide <b>& sea</b> ________')
    expect(answerSpaces(again)).toEqual([])
    expect([...read.value.pictures.keys()]).toEqual(['Pictures/m.png'])
  })
})
