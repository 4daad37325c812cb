import { type ReactNode, useEffect } from 'react'
import { hydrateRoot } from 'react-dom/client'

type Field = HTMLInputElement | HTMLTextAreaElement

const setValue = (field: Field, value: string) =>
  // As a key does it: React, which has put its own in its place, hears of it from the event.
  Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field) as object, 'value')!.set!.call(field, value)
const tell = (field: Field) => field.dispatchEvent(new Event('input', { bubbles: true }))

/**
 * Takes over a page that was drawn on the server. It could be seen, and its fields written in, before anybody listened: what
 * was typed or filled in by then counts. Its buttons cannot be pressed until then (see theme.css).
 */
export function takeOver(root: HTMLElement, page: ReactNode): void {
  const typed = [...root.querySelectorAll<Field>('input:not([type=checkbox], [type=radio], [type=file]), textarea')]
    .filter((field) => field.value !== field.defaultValue)
    .map((field) => ({ field, value: field.value }))
  for (const { field } of typed) field.value = field.defaultValue
  const listens = () => {
    // The header has keys of its own: the page is not listened to before it is. An event takes over the part it comes to.
    for (const header of root.querySelectorAll('header')) header.dispatchEvent(new Event('input', { bubbles: true }))
    delete root.dataset['drawn']
    for (const { field, value } of typed) {
      // The part it stands in may not be taken over yet: the first event does that.
      tell(field)
      setValue(field, value + field.value.slice(field.defaultValue.length))
      tell(field)
    }
  }
  hydrateRoot(root, <Listening listens={listens}>{page}</Listening>, {
    // Whatever is not as it was drawn there (another zone than the last time) is drawn anew here.
    onRecoverableError: () => undefined,
  })
}

function Listening({ listens, children }: { readonly listens: () => void; readonly children: ReactNode }) {
  useEffect(() => {
    // Not while React works: it takes over a part at once only when it is called from outside.
    const timer = setTimeout(listens)
    return () => clearTimeout(timer)
    // Once.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [])
  return children
}
