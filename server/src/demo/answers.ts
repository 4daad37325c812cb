import type { AnswerSpace } from '@gavrin/core'
import { openRoot } from '@gavrin/core'
import * as Y from 'yjs'

/** What the demo students write, by answer space, a few ways each. Options of a choice by their number. */
const ANSWERS: Record<string, readonly string[]> = {
  t1: ['05:48', '5:48 in the morning', '05.48'],
  t2: ['3.7', '3,7', '3.7'],
  t3: [
    'It can go from about 04:10 until 07:30, because the table says the height is over 2.1 m then and the sill is at 0.6 m.',
    'Around high water. It needs 1.5 m over the sill, so the tide must be above 2.1 m.',
    'Between four and half past seven in the morning, and again in the evening from 16:30.',
  ],
  t4: [
    'Because the moon is not over the equator, one bulge is higher for us than the other.',
    'The moon moves on between them.',
  ],
  t5: ['2', '2', '1'],
  t6: ['1 2', '1 2', '2 4'],
  t7: ['747', '747', '12 hours 27'],
  t8: ['The long way to Gull Rock', 'Morning tide run', 'Fennick Express'],
  t9: [
    'Do not leave at noon: that is low water. Wait until about 16:30.',
    'You would sit on the sill. Go with the evening tide.',
  ],
  l1: ['2', '3'],
  l2: ['24', '30'],
  l3: ['Turn until you see white again and go slowly.'],
  r1: ['14', '12.5', '15'],
  r2: ['9', '8.5', '9'],
  r3: ['31', '29', '33.5'],
  r4: ['3', '3', '1'],
  r5: [
    'Nylon held the most. We did not test it wet, or after a week in the sun.',
    'Nylon, because it stretches and does not rot.',
  ],
  s1: ['at the gate', 'At the harbour gate'],
  s2: ['2', '2', '3'],
  g1: ['The short time when the tide does not run.'],
  g2: ['The deep way that ships keep to.'],
  g3: ['bollard', 'leeward', 'ebb'],
}

/** An answer to a space, as the update that writing it makes; which of the ways, `variant` tells. */
export function demoAnswer(space: AnswerSpace, variant: number): Uint8Array | null {
  const ways = ANSWERS[space.id]
  const text = ways?.[variant % ways.length]
  if (text === undefined) return null
  const doc = new Y.Doc()
  const root = openRoot(doc, space.kind)
  if (root instanceof Y.Text) root.insert(0, text)
  else if (root instanceof Y.Map) {
    if (space.kind === 'choice')
      for (const place of text.split(' ')) {
        const option = space.options[Number(place) - 1]
        if (option) root.set(option.id, true)
      }
  } else {
    const paragraph = new Y.XmlElement('paragraph')
    paragraph.insert(0, [new Y.XmlText(text)])
    root.insert(0, [paragraph])
  }
  return Y.encodeStateAsUpdate(doc)
}
