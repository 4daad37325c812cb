import { type PlacedSpace, spaceFor } from '@gavrin/core'
import { NodeSelection } from '@tiptap/pm/state'
import type { Editor } from '@tiptap/react'
import { useState } from 'react'
import { sentenceOf } from '../ui/api'
import { openPicture, placesOn } from '../workers/pages'
import { newId } from './document'
import { ownStep } from './ownStep'

/** Finds the ruled lines and empty frames of backdrop pages and proposes a box for each that has none yet. */
export function useFindBlanks(editor: Editor, mediaUrl: (id: string) => string) {
  const [isLooking, setLooking] = useState(false)
  const [said, setSaid] = useState<string | null>(null)

  /** @param blockId of one page; none: on all of them */
  const find = async (blockId?: string) => {
    setLooking(true)
    setSaid(null)
    try {
      let found = 0
      for (const id of backdropIds(editor).filter((one) => blockId === undefined || one === blockId))
        found += await findOn(editor, id, mediaUrl)
      if (found === 0) setSaid('No ruled line or empty frame was found that has no box yet.')
    } catch (error) {
      setSaid(sentenceOf(error))
    } finally {
      setLooking(false)
    }
  }
  return { isLooking, said, find }
}

/** The ids of the backdrop pages, in the order of the worksheet. */
export function backdropIds(editor: Editor): string[] {
  const ids: string[] = []
  editor.state.doc.descendants((node) => {
    if (node.type.name === 'backdrop') ids.push(node.attrs['blockId'] as string)
  })
  return ids
}

async function findOn(editor: Editor, blockId: string, mediaUrl: (id: string) => string): Promise<number> {
  const pageOf = () => {
    const found: { at: number; media: string; spaces: readonly PlacedSpace[]; attrs: Record<string, unknown> }[] = []
    editor.state.doc.descendants((node, at) => {
      if (node.type.name !== 'backdrop' || node.attrs['blockId'] !== blockId) return
      const { media } = node.attrs['page'] as { media: string }
      found.push({ at, media, spaces: node.attrs['spaces'] as PlacedSpace[], attrs: node.attrs })
    })
    return found[0]
  }
  const media = pageOf()?.media
  if (!media) return 0
  const answer = await fetch(mediaUrl(media))
  const places = await placesOn(await openPicture(await answer.blob()))
  // Boxes may have been drawn, and the page moved, while it was looked at.
  const page = pageOf()
  if (!page) return 0
  const isNew = (box: PlacedSpace['box']) =>
    !page.spaces.some(
      ({ box: old }) =>
        Math.min(old.x + old.width, box.x + box.width) > Math.max(old.x, box.x) &&
        Math.min(old.y + old.height, box.y + box.height) > Math.max(old.y, box.y),
    )
  const found = places
    .filter(({ box }) => isNew(box))
    .map((place): PlacedSpace => ({ box: place.box, space: spaceFor(place, newId) }))
  if (found.length === 0) return 0
  const { selection, tr } = editor.state
  ownStep(tr).setNodeMarkup(page.at, undefined, { ...page.attrs, spaces: [...page.spaces, ...found] })
  if (selection instanceof NodeSelection && selection.from === page.at)
    tr.setSelection(NodeSelection.create(tr.doc, page.at))
  editor.view.dispatch(tr)
  return found.length
}
