import { WHOSE, forgetStates } from '../live/keptStates'
import { whenSettled } from '../ui/whenIdle'

const PAGES = 'gavrin-pages'
/** Whom the server sent a page to. */
const FOR = 'gavrin-for'

const isPossible = () => 'serviceWorker' in navigator && 'caches' in window

/** What was kept from this window, and of which form. */
const kept = new Map<string, string>()

/**
 * Keeps a page of one's own, so that it opens without a network too.
 * @param form says when it is another than before
 */
export async function keepPage(personId: string, path: string, form: string): Promise<void> {
  if (!isPossible() || kept.get(path) === form) return
  kept.set(path, form)
  try {
    localStorage.setItem(WHOSE, personId)
    // A page is there to be written in first.
    await new Promise<void>(whenSettled)
    // Later then: it is asked for anew when the page is other, or opened again.
    if (!navigator.onLine) return void kept.delete(path)
    const { active } = await navigator.serviceWorker.register('/sw.js').then(() => navigator.serviceWorker.ready)
    const page = await fetch(path)
    if (!page.ok || page.headers.get(FOR) !== personId) return void kept.delete(path)
    const pages = await caches.open(PAGES)
    if (isKeptOf(personId)) await pages.put(path, page)
    // Who signed out meanwhile, in any window, leaves nothing.
    if (!isKeptOf(personId)) await pages.delete(path)
    active?.postMessage('keep files')
  } catch {
    // A browser that keeps nothing, or no room: it opens with a network as ever.
    kept.delete(path)
  }
}

/** Nothing of anybody is kept in this browser any more, but what is not sent yet. */
export async function forgetPages(): Promise<void> {
  kept.clear()
  try {
    localStorage.removeItem(WHOSE)
    if ('caches' in window) await caches.delete(PAGES)
    await forgetStates()
  } catch {
    // Nothing could be kept.
  }
}

/** What is kept of others goes when somebody is here, or when nobody is signed in any more. */
export async function keepOnlyOf(personId: string | null): Promise<void> {
  const whose = keptOf()
  if (whose !== null && whose !== personId) await forgetPages()
}

function keptOf(): string | null {
  try {
    return localStorage.getItem(WHOSE)
  } catch {
    return null
  }
}

const isKeptOf = (personId: string) => keptOf() === personId
