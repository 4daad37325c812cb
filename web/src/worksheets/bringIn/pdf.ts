import type { PageText } from '@gavrin/core'
import * as pdfjs from 'pdfjs-dist/legacy/build/pdf.mjs'
import workerUrl from 'pdfjs-dist/legacy/build/pdf.worker.min.mjs?url'

pdfjs.GlobalWorkerOptions.workerSrc = workerUrl

const MILLIMETRES = 25.4 / 72
/** Dots an inch of a backdrop page. */
const DOTS = 150
const PAGES = 1_000

/** A PDF that is open; its pages are counted from 1. */
export interface OpenPdf {
  readonly pages: number
  /** In millimetres. */
  size(page: number): Promise<{ readonly width: number; readonly height: number }>
  text(page: number): Promise<PageText[]>
  /** The page as a picture, so many pixels wide; for a backdrop if not said. */
  picture(page: number, width?: number): Promise<Blob>
  close(): void
}

/** What is the matter with a PDF, in a sentence. */
export class PdfProblem extends Error {}

/** Opens a PDF. Nothing in it is run, and nothing is fetched for it. */
export async function openPdf(file: Blob): Promise<OpenPdf> {
  const loading = pdfjs.getDocument({
    data: new Uint8Array(await file.arrayBuffer()),
    enableXfa: false,
    isEvalSupported: false,
    disableFontFace: false,
    useSystemFonts: true,
    stopAtErrors: false,
  })
  let pdf: Awaited<typeof loading.promise>
  try {
    pdf = await loading.promise
  } catch (error) {
    const name = (error as { name?: string }).name
    throw new PdfProblem(
      name === 'PasswordException'
        ? 'This PDF is locked with a password: save it without one, then bring it in.'
        : 'This PDF is damaged: save it again where it came from, or print it to a PDF anew.',
    )
  }
  if (pdf.numPages > PAGES) {
    void loading.destroy()
    throw new PdfProblem(`This PDF has ${pdf.numPages} pages, more than ${PAGES}: bring in the part that you need.`)
  }
  return {
    pages: pdf.numPages,
    async size(number) {
      const { width, height } = (await pdf.getPage(number)).getViewport({ scale: 1 })
      return { width: width * MILLIMETRES, height: height * MILLIMETRES }
    },
    async text(number) {
      const page = await pdf.getPage(number)
      const { height } = page.getViewport({ scale: 1 })
      const { items, styles } = await page.getTextContent()
      return items.flatMap((item): PageText[] => {
        if (!('str' in item)) return []
        const [a, b, , , x, y] = item.transform as [number, number, number, number, number, number]
        const family = `${item.fontName} ${styles[item.fontName]?.fontFamily ?? ''}`
        const font = page.commonObjs.has(item.fontName)
          ? (page.commonObjs.get(item.fontName) as { name?: string })
          : null
        return [
          {
            text: item.str,
            x,
            y: height - y,
            width: item.width,
            size: Math.hypot(a, b),
            bold: /bold|black|heavy/i.test(`${family} ${font?.name ?? ''}`),
          },
        ]
      })
    },
    async picture(number, width) {
      const page = await pdf.getPage(number)
      const whole = page.getViewport({ scale: 1 })
      const scale = width ? width / whole.width : Math.min(DOTS / 72, 3_000 / Math.max(whole.width, whole.height))
      const viewport = page.getViewport({ scale })
      const canvas = document.createElement('canvas')
      canvas.width = Math.ceil(viewport.width)
      canvas.height = Math.ceil(viewport.height)
      await page.render({ canvas, viewport }).promise
      page.cleanup()
      return new Promise<Blob>((resolve, reject) =>
        canvas.toBlob(
          (blob) => (blob ? resolve(blob) : reject(new PdfProblem('This page cannot be drawn.'))),
          'image/png',
        ),
      )
    },
    close: () => void loading.destroy(),
  }
}
