import type { Box } from '@gavrin/core'
import { openPicture, placesOn } from '../workers/pages'

export interface FoundPlace {
  readonly box: Box
  /** As tall as several lines: for sentences. */
  readonly tall: boolean
}

/** Taller than this share of the page, a place is for more than a few words. */
const TALL = 0.045

/** The places on the picture of a page that are meant to be written in. */
export async function findPlacesOn(url: string): Promise<FoundPlace[]> {
  const answer = await fetch(url)
  const places = await placesOn(await openPicture(await answer.blob()))
  return places.map(({ box }) => ({ box, tall: box.height > TALL }))
}
