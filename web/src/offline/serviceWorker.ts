/// <reference lib="webworker" />

// Opens one's own copies without a network, where they were opened before. Nothing is kept but what the page of a student asks for
// (`keepPages.ts`), and a page only for as long as the server sends it to the same person.

const worker = globalThis as unknown as ServiceWorkerGlobalScope

/** The files that the pages of students are made of; filled in when they are built. */
const FILES_OF_PAGES: readonly string[] = ['__FILES_OF_PAGES__']
const FILES = 'gavrin-files'
const PAGES = 'gavrin-pages'
/** Whom the server sent a page to. */
const FOR = 'gavrin-for'
/** After this time without an answer a page is shown as it was, in milliseconds. */
const PATIENCE = 4_000
const PAGE = /^\/(copies\/[0-9a-f-]{36})?$/

worker.addEventListener('install', () => void worker.skipWaiting())

worker.addEventListener('activate', (event) =>
  event.waitUntil(
    (async () => {
      await worker.clients.claim()
      await worker.registration.navigationPreload?.enable()
      if (await caches.has(FILES)) await renew()
    })(),
  ),
)

worker.addEventListener('message', (event) => {
  if (event.data === 'keep files') event.waitUntil(keepFiles())
})

worker.addEventListener('fetch', (event) => {
  const { request } = event
  const { origin, pathname } = new URL(request.url)
  if (request.method !== 'GET' || origin !== worker.location.origin) return
  if (pathname.startsWith('/assets/')) event.respondWith(fileFor(request))
  else if (request.mode === 'navigate' && PAGE.test(pathname)) event.respondWith(pageFor(event, pathname))
})

/** A file never changes under its name. */
async function fileFor(request: Request): Promise<Response> {
  const known = (await caches.has(FILES)) && (await (await caches.open(FILES)).match(request))
  if (known) return known
  const answer = await fetch(request)
  // What was loaded once is there the next time, as a font.
  if (answer.ok && (await caches.has(FILES))) await (await caches.open(FILES)).put(request, answer.clone())
  return answer
}

async function pageFor(event: FetchEvent, path: string): Promise<Response> {
  const fetched = async (): Promise<Response> =>
    ((await event.preloadResponse) as Response | undefined) ?? fetch(event.request)
  const pages = await caches.open(PAGES)
  const known = await pages.match(path)
  if (!known) return fetched()
  const fresh = fetched().then(async (answer) => {
    await keepAgain(pages, path, known, answer)
    return answer
  })
  event.waitUntil(fresh.catch(() => undefined))
  return Promise.race([
    fresh.catch(() => known.clone()),
    new Promise<Response>((resolve) => setTimeout(() => resolve(known.clone()), PATIENCE)),
  ])
}

/** Keeps a page as it is now; if it is somebody else's, or nobody's, nothing is kept any more. */
async function keepAgain(pages: Cache, path: string, known: Response, answer: Response): Promise<void> {
  if (answer.headers.get(FOR) !== known.headers.get(FOR)) return void (await caches.delete(PAGES))
  if (answer.ok && (await pages.match(path))) await pages.put(path, answer.clone())
}

async function keepFiles(): Promise<void> {
  const files = await caches.open(FILES)
  for (const path of FILES_OF_PAGES) if (!(await files.match(path))) await files.add(path).catch(() => undefined)
}

/** Another Gavrin is served now: the files of the one before go, and pages are kept as they are made now. */
async function renew(): Promise<void> {
  const pages = await caches.open(PAGES)
  await keepFiles()
  for (const request of await pages.keys()) {
    const known = await pages.match(request)
    const answer = await fetch(request.url).catch(() => null)
    if (known && answer) await keepAgain(pages, new URL(request.url).pathname, known, answer)
  }
  const files = await caches.open(FILES)
  const wanted = new Set(FILES_OF_PAGES)
  for (const request of await files.keys()) {
    const { pathname } = new URL(request.url)
    if (/\.(js|css)$/.test(pathname) && !wanted.has(pathname)) await files.delete(request)
  }
}
