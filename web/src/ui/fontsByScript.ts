import { whenSettled } from './whenIdle'

// Fonts of other scripts are a hundred small files each; their lists are fetched when a letter of the script is on the page.

const SCRIPTS: readonly { readonly letters: RegExp; readonly load: () => Promise<unknown> }[] = [
  { letters: /\p{Script=Han}/u, load: () => import('@fontsource/noto-sans-sc/400.css') },
  {
    letters: /\p{Script=Arabic}/u,
    load: () =>
      Promise.all([import('@fontsource/noto-sans-arabic/400.css'), import('@fontsource/noto-sans-arabic/600.css')]),
  },
  {
    letters: /\p{Script=Hebrew}/u,
    load: () =>
      Promise.all([import('@fontsource/noto-sans-hebrew/400.css'), import('@fontsource/noto-sans-hebrew/600.css')]),
  },
  // Whatever the text font has no letters for.
  {
    letters: /[^\p{Script=Latin}\p{Script=Common}\p{Script=Inherited}]/u,
    load: () => import('@fontsource-variable/noto-sans'),
  },
]

/** Watches what comes on the page, and fetches the fonts it needs; for what is there already, when nothing waits any more. */
export function watchScripts(page: HTMLElement): void {
  let left = [...SCRIPTS]
  const look = (text: string | null) => {
    if (!text || left.length === 0) return
    const found = left.filter(({ letters }) => letters.test(text))
    left = left.filter((script) => !found.includes(script))
    for (const { load } of found) void load().catch(() => undefined)
    if (left.length === 0) watcher.disconnect()
  }
  const watcher = new MutationObserver((changes) => {
    for (const { type, target, addedNodes } of changes) {
      if (type === 'characterData') look(target.textContent)
      for (const node of addedNodes) {
        look(node.textContent)
        if (node instanceof Element)
          for (const field of node.querySelectorAll<HTMLInputElement>('input, textarea')) look(field.value)
      }
    }
  })
  whenSettled(() => look(page.textContent))
  watcher.observe(page, { childList: true, subtree: true, characterData: true })
  page.addEventListener('input', ({ target }) => look((target as Partial<HTMLInputElement>).value ?? null))
}
