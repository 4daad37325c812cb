// Our fonts are set in from the first picture on where they are there by then; else with the next place, so that a page that
// is being read never jumps.

const FACES = [
  '400 16px "Atkinson Hyperlegible Next Variable"',
  '600 18px "Zilla Slab"',
  '700 23px "Zilla Slab"',
] as const
/** How long the first picture waits for fonts that are in the browser's store, in milliseconds. */
const PATIENCE = 120

let areHere = false
const wear = () => document.documentElement.classList.add('own-fonts')

/** Begins to fetch the fonts; resolves when they are set in, or after a moment. */
export function ownFonts(): Promise<void> {
  const fetched = Promise.all(FACES.map((face) => document.fonts.load(face))).then(() => {
    areHere = true
  })
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
