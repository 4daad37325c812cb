import { type AnswerSpace, type Block, type WorksheetContent, isAnswerSpace } from './content.js'
import { keyWords } from './key.js'
import { kindOf } from './kinds/index.js'
import { isSame } from './same.js'
import { spaceLabels, blockWords } from './words.js'
import { answerSpaces, spacesOfBlock } from './walk.js'
import { type WordPiece, compareWords } from './wordDiff.js'

/** What became of one block from one edition to another. */
export interface BlockChange {
  readonly id: string
  readonly kind: Block['kind']
  readonly is: 'added' | 'removed' | 'changed' | 'moved'
  /** Changed, and moved as well. */
  readonly alsoMoved: boolean
  /** The words of the block, with those that came and went. */
  readonly words: readonly WordPiece[]
  /** What else changed, a phrase each: `points 1 → 2`, `a picture in another place`. */
  readonly details: readonly string[]
}

/** What changed between two editions, in the order of the page of the later one. */
export interface EditionChanges {
  readonly blocks: readonly BlockChange[]
  /** What changed of the page as a whole, a phrase each. */
  readonly page: readonly string[]
  /** Answer spaces that only the later edition has, and only the earlier: their answers are kept and shown as such. */
  readonly newSpaces: readonly { readonly id: string; readonly label: string }[]
  readonly goneSpaces: readonly { readonly id: string; readonly label: string }[]
  /** Answer spaces that stayed under their id but are of another kind: their answers do not fit any more. */
  readonly changedKinds: readonly { readonly id: string; readonly label: string }[]
}

/** Compares two contents block by block, by the ids of the blocks. */
export function compareContents(before: WorksheetContent, after: WorksheetContent): EditionChanges {
  const earlier = new Map(before.blocks.map((block) => [block.id, block]))
  const later = new Map(after.blocks.map((block) => [block.id, block]))
  const moved = movedIds(
    before.blocks.map(({ id }) => id).filter((id) => later.has(id)),
    after.blocks.map(({ id }) => id).filter((id) => earlier.has(id)),
  )
  const changes: BlockChange[] = []
  const removedAfter = new Map<string | null, Block[]>()
  let last: string | null = null
  for (const block of before.blocks) {
    if (later.has(block.id)) last = block.id
    else removedAfter.set(last, [...(removedAfter.get(last) ?? []), block])
  }
  const pushRemoved = (id: string | null) =>
    removedAfter.get(id)?.forEach((block) => changes.push(whole(block, 'removed')))
  pushRemoved(null)
  for (const block of after.blocks) {
    const old = earlier.get(block.id)
    if (!old) changes.push(whole(block, 'added'))
    else {
      const isMoved = moved.has(block.id)
      if (!isSame(old, block)) changes.push({ ...changed(old, block), alsoMoved: isMoved })
      else if (isMoved) changes.push({ ...whole(block, 'moved'), words: [{ is: 'same', text: wordsOf(block) }] })
      pushRemoved(block.id)
    }
  }
  return { blocks: changes, page: pageChanges(before, after), ...spaceChanges(before, after) }
}

/** A block in words: its print, or which answer space it is. */
function wordsOf(block: Block): string {
  const words = blockWords(block)
  if (!isAnswerSpace(block)) return words || (block.kind === 'text' ? '' : block.kind)
  return [block.label, words, `[${kindOf(block).name.toLowerCase()}]`].filter(Boolean).join(' ')
}

function whole(block: Block, is: 'added' | 'removed' | 'moved'): BlockChange {
  const piece: WordPiece = { is: is === 'added' ? 'new' : is === 'removed' ? 'gone' : 'same', text: wordsOf(block) }
  return { id: block.id, kind: block.kind, is, alsoMoved: false, words: [piece], details: [] }
}

function changed(before: Block, after: Block): BlockChange {
  const details: string[] = []
  if (before.kind !== after.kind) details.push(`${before.kind} → ${after.kind}`)
  const old = new Map(spacesOfBlock(before).map((space) => [space.id, space]))
  for (const space of spacesOfBlock(after)) {
    const earlier = old.get(space.id)
    if (earlier) details.push(...spaceDetails(earlier, space))
  }
  const words = compareWords(wordsOf(before), wordsOf(after))
  if (details.length === 0 && words.every(({ is }) => is === 'same')) details.push(...otherDetails(before, after))
  return { id: after.id, kind: after.kind, is: 'changed', alsoMoved: false, words, details }
}

function spaceDetails(before: AnswerSpace, after: AnswerSpace): string[] {
  const details: string[] = []
  const differs = (name: string, one: Shown, other: Shown) => {
    if (!isSame(one ?? null, other ?? null)) details.push(`${name} ${shown(one)} → ${shown(other)}`)
  }
  differs('points', before.points, after.points)
  differs('key', keyWords(before) || undefined, keyWords(after) || undefined)
  differs('hint', before.hint, after.hint)
  if (!!before.required !== !!after.required) details.push(after.required ? 'now required' : 'no longer required')
  for (const change of (before.kind === after.kind && kindOf(after).changes?.(before, after)) || [])
    if (typeof change === 'string') details.push(change)
    else differs(...change)
  if (details.length === 0 && !isSame(before, after)) details.push('the answer space is set up differently')
  return details
}

type Shown = string | number | null | undefined
const shown = (value: Shown) => (value === undefined || value === null || value === '' ? 'none' : String(value))

function otherDetails(before: Block, after: Block): string[] {
  if (before.kind === 'picture' && after.kind === 'picture') {
    if (before.media !== after.media) return ['another picture']
    return ['the picture is cut, turned or placed differently']
  }
  if (before.kind === 'backdrop' && after.kind === 'backdrop')
    return [before.media !== after.media ? 'another page picture' : 'boxes lie in other places']
  if (before.kind === 'section' && after.kind === 'section' && !isSame(before.whose, after.whose))
    return [`whose part it is: ${before.whose.is} → ${after.whose.is}`]
  return ['only its look']
}

function pageChanges(before: WorksheetContent, after: WorksheetContent): string[] {
  const changes: string[] = []
  if (!isSame(before.page, after.page)) changes.push(`page size ${pageWords(before)} → ${pageWords(after)}`)
  if (before.source !== after.source) changes.push(`source line “${before.source}” → “${after.source}”`)
  if (before.language !== after.language)
    changes.push(`language ${before.language ?? 'as the text is'} → ${after.language ?? 'as the text is'}`)
  if (before.spelling !== after.spelling)
    changes.push(after.spelling === false ? 'no help with spelling' : 'help with spelling')
  return changes
}

const pageWords = ({ page }: WorksheetContent) =>
  typeof page === 'string' ? page : `${Math.round(page.width)} × ${Math.round(page.height)} mm`

function spaceChanges(before: WorksheetContent, after: WorksheetContent) {
  const oldKinds = new Map(answerSpaces(before).map(({ id, kind }) => [id, kind]))
  const newKinds = new Map(answerSpaces(after).map(({ id, kind }) => [id, kind]))
  const oldLabels = spaceLabels(before)
  const newLabels = spaceLabels(after)
  const named = (labels: ReadonlyMap<string, string>) => (id: string) => ({ id, label: labels.get(id) ?? '' })
  return {
    newSpaces: [...newKinds.keys()].filter((id) => !oldKinds.has(id)).map(named(newLabels)),
    goneSpaces: [...oldKinds.keys()].filter((id) => !newKinds.has(id)).map(named(oldLabels)),
    changedKinds: [...newKinds]
      .filter(([id, kind]) => oldKinds.has(id) && oldKinds.get(id) !== kind)
      .map(([id]) => named(newLabels)(id)),
  }
}

/** The ids that moved: all but a longest run of ids that kept their order. */
function movedIds(before: readonly string[], after: readonly string[]): Set<string> {
  const place = new Map(before.map((id, at) => [id, at]))
  const order = after.map((id) => place.get(id)!)
  // Longest increasing subsequence, by patience: O(n log n).
  const tails: number[] = []
  const previous: number[] = []
  order.forEach((value, at) => {
    let low = 0
    let high = tails.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (order[tails[middle]!]! < value) low = middle + 1
      else high = middle
    }
    previous[at] = low > 0 ? tails[low - 1]! : -1
    tails[low] = at
  })
  const kept = new Set<number>()
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]!) kept.add(at)
  return new Set(after.filter((_, at) => !kept.has(at)))
}
