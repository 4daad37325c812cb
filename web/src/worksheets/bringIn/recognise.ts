import type { RecognisedLine } from '@gavrin/core'
import { OEM, PSM, type Worker, createWorker } from 'tesseract.js'

/** What is going on while a page is read, in words, and how far it is, 0 to 1. */
export interface Reading {
  readonly words: string
  readonly share: number
}

const WORDS: Readonly<Record<string, string>> = {
  'loading tesseract core': 'getting ready',
  'initializing tesseract': 'getting ready',
  'loading language traineddata': 'loading the letters',
  'initializing api': 'getting ready',
  'recognizing text': 'reading',
}

/**
 * Reads the text on the picture of a page, in a worker, with what is shipped with the application.
 * @param signal stops it at once
 */
export async function recognise(
  page: Blob,
  told: (reading: Reading) => void,
  signal: AbortSignal,
): Promise<RecognisedLine[]> {
  let worker: Worker | null = null
  const stopped = new Promise<never>((_, reject) => {
    signal.addEventListener('abort', () => reject(new DOMException('stopped', 'AbortError')))
  })
  const read = async (): Promise<RecognisedLine[]> => {
    worker = await createWorker('eng', OEM.LSTM_ONLY, {
      workerPath: '/recognise/worker.min.js',
      corePath: '/recognise/core.wasm.js',
      langPath: '/recognise',
      // The page's policy lets workers come from us only, not from a blob.
      workerBlobURL: false,
      cacheMethod: 'none',
      gzip: true,
      logger: ({ status, progress }) => told({ words: WORDS[status] ?? 'reading', share: progress }),
    })
    await worker.setParameters({
      tessedit_pageseg_mode: PSM.AUTO,
      preserve_interword_spaces: '0',
      // It would tell the console what it thinks of the picture.
      debug_file: '/dev/null',
    })
    const { data } = await worker.recognize(page, {}, { blocks: true, text: false })
    return (data.blocks ?? []).flatMap(({ paragraphs }) =>
      paragraphs.flatMap(({ lines }) =>
        lines.map(({ words, rowAttributes }) => ({
          height: rowAttributes?.rowHeight ?? 0,
          words: words.map(({ text, confidence, bbox }) => ({ text, confidence, ...bbox })),
        })),
      ),
    )
  }
  try {
    return await Promise.race([read(), stopped])
  } finally {
    void (worker as Worker | null)?.terminate()
  }
}
