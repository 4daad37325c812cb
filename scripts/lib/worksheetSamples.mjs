import {
  AlignmentType,
  Document,
  Footer,
  HeadingLevel,
  ImageRun,
  LeaderType,
  Packer,
  PageBreak,
  Paragraph,
  Tab,
  TabStopPosition,
  TabStopType,
  Table,
  TableCell,
  TableRow,
  TextRun,
  VerticalMergeType,
} from 'docx'
import { strToU8, zipSync } from 'fflate'
import sharp from 'sharp'
import { photograph } from './photographs.mjs'

// The sample documents of docs/bring-in.md: small, made up, each with what its format can do to a worksheet.

const CHART = `<svg xmlns="http://www.w3.org/2000/svg" width="640" height="260"><rect width="640" height="260" fill="#eef3f6"/><path d="M0 150 C 80 20 160 20 240 150 S 400 280 480 150 S 600 30 640 90" fill="none" stroke="#1d6b5f" stroke-width="6"/><line x1="0" y1="150" x2="640" y2="150" stroke="#96690f" stroke-width="2" stroke-dasharray="8 6"/></svg>`

/** The page of which there are photographs: its text is known, so that reading it can be measured. */
export const PAGE_TEXT = `Knots of the harbour
Read each line aloud, then answer in full sentences.
The bowline makes a loop that neither slips nor jams. Sailors
tie it around a bollard when a ship comes alongside the quay.
1. Why must the loop not slip?
2. Name two places in the harbour where you have seen a bowline.
The clove hitch holds a fender to a rail. It is quick to tie and
quick to cast off, but it can work loose when the boat rolls.
3. When would you not trust a clove hitch?
Keep this sheet dry and hand it in before Friday.`

const PAGE_HTML = `<!doctype html><meta charset="utf-8"><style>
body{margin:0;width:1240px;height:1754px;background:#fff;color:#111;font:31px/1.5 Georgia,"Liberation Serif","DejaVu Serif",serif}
main{padding:110px 120px}h1{font-size:54px;margin:0 0 26px}p{margin:0 0 26px}.line{border-bottom:2.5px solid #222;height:62px}.box{border:3px solid #222;height:220px;margin:10px 0 30px}
</style><main><h1>Knots of the harbour</h1><p>Read each line aloud, then answer in full sentences.</p>
<p>The bowline makes a loop that neither slips nor jams. Sailors<br>tie it around a bollard when a ship comes alongside the quay.</p>
<p>1. Why must the loop not slip?</p><div class="line"></div><div class="line"></div>
<p style="margin-top:40px">2. Name two places in the harbour where you have seen a bowline.</p><div class="line"></div>
<p style="margin-top:40px">The clove hitch holds a fender to a rail. It is quick to tie and<br>quick to cast off, but it can work loose when the boat rolls.</p>
<p>3. When would you not trust a clove hitch?</p><div class="box"></div>
<p>Keep this sheet dry and hand it in before Friday.</p></main>`

const PDF_HTML = `<!doctype html><meta charset="utf-8"><style>@page{size:A4;margin:22mm}body{font:12pt/1.5 "Liberation Serif","DejaVu Serif",serif}h1{font-size:22pt}h2{font-size:15pt}.b{break-before:page}td{border:1px solid #333;width:60mm;height:9mm}</style>
<h1>Harbour front page</h1><p>Your crew writes the front page of the harbour newspaper. Every member has a part. Read the whole sheet before you begin, and agree on who writes what and by when it has to be ready to print.</p>
<h2>The lead story</h2><p>Headline: ______________________</p><p>The ferry arrived at ________ and left again at ________ with all its passengers on board.</p>
<div class="b"></div><h2>The weather at sea</h2><p>Wind, waves and tide for tomorrow:</p><p>________________________________________</p><p>________________________________________</p><table><tr><td>Wind</td><td></td></tr><tr><td>Waves</td><td></td></tr></table>`

async function docx() {
  const chart = await sharp(Buffer.from(CHART)).png().toBuffer()
  const text = (words) => new Paragraph({ children: [new TextRun(words)] })
  const cell = (words, more = {}) => new TableCell({ children: [text(words)], ...more })
  const document = new Document({
    title: 'Reading a tide table',
    sections: [
      {
        footers: { default: new Footer({ children: [text('Fennick Quay harbour office')] }) },
        children: [
          new Paragraph({ heading: HeadingLevel.HEADING_1, children: [new TextRun('Reading a tide table')] }),
          new Paragraph({
            children: [
              new TextRun('Use the table for '),
              new TextRun({ text: 'Fennick Quay', bold: true }),
              new TextRun(', 3 December. Heights are in metres.'),
            ],
          }),
          text('Name:'),
          text('1. The first high water is at ________ and reaches ________ m.'),
          text('2. Between which times can a boat leave? Say how you know.'),
          text('_'.repeat(64)),
          text('_'.repeat(64)),
          text('_'.repeat(64)),
          new Paragraph({
            tabStops: [{ type: TabStopType.RIGHT, position: TabStopPosition.MAX, leader: LeaderType.DOT }],
            children: [
              new TextRun('3. Slack water lasts about'),
              new TextRun({ children: [new Tab()] }),
              new TextRun('minutes.'),
            ],
          }),
          new Paragraph({
            alignment: AlignmentType.CENTER,
            children: [
              new ImageRun({
                type: 'png',
                data: chart,
                transformation: { width: 420, height: 170 },
                altText: { name: 'curve', title: 'curve', description: 'The height of the sea over one day' },
              }),
            ],
          }),
          new Paragraph({ heading: HeadingLevel.HEADING_2, children: [new TextRun('Heights')] }),
          new Table({
            rows: [
              new TableRow({ children: [cell('Tide'), cell('Time'), cell('Height (m)')] }),
              new TableRow({
                children: [cell('High', { verticalMerge: VerticalMergeType.RESTART }), cell('05:48'), cell('')],
              }),
              new TableRow({
                children: [cell('', { verticalMerge: VerticalMergeType.CONTINUE }), cell('18:15'), cell('')],
              }),
              new TableRow({ children: [cell('Low'), cell('12:03'), cell('')] }),
            ],
          }),
          new Paragraph({ children: [new PageBreak()] }),
          text('4. Why are the two high waters not equally high?'),
          new Paragraph({ children: [new TextRun({ text: ' '.repeat(40), underline: {} })] }),
        ],
      },
    ],
  })
  return Packer.toBuffer(document)
}

function odt() {
  const content = `<?xml version="1.0" encoding="UTF-8"?><office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" xmlns:xlink="http://www.w3.org/1999/xlink" office:version="1.3"><office:automatic-styles><style:style style:name="b" style:family="text"><style:text-properties fo:font-weight="bold"/></style:style><style:style style:name="lead" style:family="paragraph"><style:paragraph-properties><style:tab-stops><style:tab-stop style:position="12cm" style:leader-style="dotted" style:leader-text="."/></style:tab-stops></style:paragraph-properties></style:style><text:list-style style:name="n"><text:list-level-style-number text:level="1" style:num-format="1" style:num-suffix="."/></text:list-style></office:automatic-styles><office:body><office:text>
<text:h text:outline-level="1">Rope strength test</text:h>
<text:p>Hang weights from each rope until it <text:span text:style-name="b">begins to fray</text:span>. Write down the last weight it held.</text:p>
<text:list text:style-name="n"><text:list-item><text:p>Measure the rope.</text:p></text:list-item><text:list-item><text:p>Hang one weight after the other.</text:p></text:list-item></text:list>
<text:p text:style-name="lead">Our rope is<text:tab/>cm long.</text:p>
<table:table><table:table-row><table:table-cell table:number-columns-spanned="2"><text:p>Rope</text:p></table:table-cell><table:covered-table-cell/><table:table-cell><text:p>Held (kg)</text:p></table:table-cell></table:table-row><table:table-row><table:table-cell><text:p>hemp</text:p></table:table-cell><table:table-cell><text:p>3 mm</text:p></table:table-cell><table:table-cell><text:p/></table:table-cell></table:table-row><table:table-row><table:table-cell><text:p>nylon</text:p></table:table-cell><table:table-cell><text:p>3 mm</text:p></table:table-cell><table:table-cell><text:p/></table:table-cell></table:table-row></table:table>
<text:p>Which rope would you moor a dinghy with, and why?</text:p><text:p>__________________________________________________</text:p><text:p>__________________________________________________</text:p>
</office:text></office:body></office:document-content>`
  const manifest = `<?xml version="1.0" encoding="UTF-8"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.text"/></manifest:manifest>`
  return zipSync({
    mimetype: [strToU8('application/vnd.oasis.opendocument.text'), { level: 0 }],
    'content.xml': strToU8(content),
    'META-INF/manifest.xml': strToU8(manifest),
  })
}

const MARKDOWN = `# Sea-word glossary

What is **slack water**?

________________________________________________

The speed of a boat is $v = \\frac{s}{t}$. In 2 h it goes 18 km: $v =$ ______ km/h.

- *fairway*: the deep way that ships keep to
- *bollard*: ______________

| Word | Means | My language |
|------|-------|-------------|
| ebb  | the tide goes out | |
| leeward | away from the wind | |

---

Your own word:
`

const HTML = `<!doctype html><html><head><title>Quayside safety</title><script>alert('never run')</script><style>p{font-size:97px}</style></head><body onload="alert(1)">
<h1>Quayside safety</h1><p style="font-size:4px">Read this before we walk to the harbour on Friday.</p>
<ul><li>Stay behind the yellow line, <b>always</b>.</li><li>Nobody walks on nets, ropes or chains.</li></ul>
<p><img src="https://fennickquay.example/quay.png" alt="the quay"></p>
<p>Where are the life jackets put on? <input type="text" size="20"></p>
<p>Somebody falls in. What do you do first?</p><select><option>jump after them</option><option>shout and throw the ring</option><option>run to the office</option></select>
<p><a href="javascript:alert(2)">Press here</a> or read <a href="https://fennickquay.example/safety">the rules</a>.</p>
<p>Say it in your own words:</p><textarea></textarea>
</body></html>`

const TEXT = `Lighthouse sectors

From the sea, Fennick light shows red, white or green.
What you see depends on where you are.

1. You see white. Are you safe?
_____________________________________________

2. The white sector is ........... degrees wide.

Take with you:
- a chart
- a pencil
- a compass
`

/** Every sample, by its name. `browser`: a Chromium to print and draw with. */
export async function worksheetSamples(browser, { writeArchive }) {
  const page = await browser.newPage({ viewport: { width: 1240, height: 1754 } })
  await page.setContent(PAGE_HTML)
  const scan = await page.screenshot()
  await page.setContent(PDF_HTML)
  const pdf = await page.pdf({ preferCSSPageSize: true })
  await page.close()
  const ship = await sharp(Buffer.from(CHART)).png().toBuffer()
  return {
    'tide-table.docx': await docx(),
    'rope-test.odt': odt(),
    'sea-words.md': MARKDOWN,
    'quayside-safety.html': HTML,
    'lighthouse.txt': TEXT,
    'front-page.pdf': pdf,
    'knots.png': await sharp(scan).png({ palette: true }).toBuffer(),
    'knots.txt': `${PAGE_TEXT}\n`,
    'knots-by-the-lamp.jpg': await photograph(scan, {
      width: 1900,
      height: 2500,
      corners: [
        [250, 190],
        [1630, 300],
        [1760, 2280],
        [120, 2180],
      ],
      seed: 7,
      shadow: 0.45,
    }),
    'knots-in-a-hurry.jpg': await photograph(scan, {
      width: 2000,
      height: 2500,
      corners: [
        [560, 210],
        [1800, 520],
        [1490, 2380],
        [130, 1990],
      ],
      seed: 21,
      shadow: 0.65,
    }),
    'crew-log.gavrin.zip': writeArchive({
      title: 'Crew log',
      content: {
        version: 2,
        page: 'A4',
        source: 'Fennick Quay sailing club, made shorter for class',
        blocks: [
          {
            id: 'c-head',
            kind: 'text',
            rich: { type: 'heading', attrs: { level: 1 }, content: [{ type: 'text', text: 'Crew log' }] },
          },
          {
            id: 'c-curve',
            kind: 'picture',
            media: 'curve',
            alt: 'The height of the sea',
            pixelWidth: 640,
            pixelHeight: 260,
            width: 60,
            turn: 0,
            crop: null,
            place: 'middle',
          },
          {
            id: 'c-own',
            kind: 'section',
            title: 'Your watch',
            whose: { is: 'each member' },
            blocks: [
              {
                id: 'c-q',
                kind: 'text',
                rich: { type: 'paragraph', content: [{ type: 'text', text: 'What did you see?' }] },
              },
              { id: 'c-a', kind: 'passage', lines: 4, points: 3, model: 'Buoys, other boats, the weather.' },
            ],
          },
          { id: 'c-draw', kind: 'drawing', height: 40, ground: 'curve' },
        ],
      },
      media: [{ id: 'curve', type: 'image/png', width: 640, height: 260, bytes: new Uint8Array(ship) }],
    }),
  }
}
