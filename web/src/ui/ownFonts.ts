import { remember } from './cookies'
import { whenIdle } from './whenIdle'

// Our fonts are set in from the first picture on where this browser is known to have them (the server puts the class and their
// addresses in the page then), or where they are there in a moment; else with the next place, so that a page that is being
// read never jumps.

const FACES = [
  '400 16px "Atkinson Hyperlegible Next Variable"',
  '600 18px "Zilla Slab"',
  '700 23px "Zilla Slab"',
] as const
/** How long the first picture waits for fonts that are in the browser's store, in milliseconds. */
const PATIENCE = 120

let areHere = false
const wear = () => document.documentElement.classList.add('own-fonts')

function came(): void {
  areHere = true
  remember('fonts', 'here')
}

/** Brings the fonts into the browser's store, when nothing waits for anything else: a page that is there is not set anew. */
export function storeFonts(): void {
  const addresses = document.querySelector<HTMLMetaElement>('meta[name=fonts]')?.content.split(' ') ?? []
  if (addresses.length === 0) return
  const store = async () => {
    const answers = await Promise.all(addresses.map((address) => fetch(address)))
    if (!answers.every(({ ok }) => ok)) return
    await Promise.all(answers.map((answer) => answer.arrayBuffer()))
    came()
  }
  whenIdle([store])
}

/** Fetches the fonts for a page that is not seen yet; resolves when they are set in, or after a moment. */
export function ownFonts(): Promise<void> {
  const fetched = Promise.all(FACES.map((face) => document.fonts.load(face))).then(came)
  let isFirst = true
  const inTime = fetched.then(() => {
    if (isFirst) wear()
  })
  const late = new Promise<void>((resolve) =>
    setTimeout(() => {
      isFirst = false
      resolve()
    }, PATIENCE),
  )
  return Promise.race([inTime, late]).catch(() => undefined)
}

/** Another place is shown: what has come meanwhile is set in. */
export function wearFonts(): void {
  if (areHere) wear()
}
