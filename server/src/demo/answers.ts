import { type AnswerSpace, baseAddress, newAnswerDoc, openRoot } from '@gavrin/core'
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
  'fp-name': ['The Fennick Gull', 'Quay Post', 'Low Water Times'],
  'fp-story': [
    'On Tuesday morning, the ferry left without its captain. He had gone to buy rolls and came running along the quay.',
    'On Tuesday morning, a seal lay on the slipway and nobody could launch a boat. The harbour master waited until noon.',
    'On Tuesday morning, the new crane lifted its first crate: three tons of ice for the fish hall.',
  ],
  'fp-wind': ['south-west', 'west'],
  'fp-high': ['05:48', '5:48'],
  'ss-found': [
    'Bladder wrack, two kinds of limpet, and a glove.',
    'Mostly flat stones. Between them shore crabs, none larger than a thumb.',
    'Sand with worm casts, and a line of cockles where the last tide stood.',
  ],
  'ss-shells': ['7', '4', '11'],
  'kn-1': ['Because whoever hangs in it would be pulled under.', 'A loop that slips closes on what it holds.'],
  'kn-2': ['on a mooring ring, round a bollard'],
  'kn-3': ['When the rope is wet and the load comes and goes.'],
  'mr-h1': ['14', '12.5'],
  'mr-h2': ['15', '13'],
  'mr-c1': ['9', '8.5'],
  'mr-c2': ['9.5', '9'],
  'mr-n1': ['31', '29'],
  'mr-n2': ['30', '33'],
  'mr-g': ['gravity'],
}

/** Two who have the same to say: one typed it, the other has it in one piece. The last is not quite the same. */
const ALIKE: Record<string, Readonly<Record<number, string>>> = {
  t3: {
    12: 'My grandfather keeps his boat behind the sill, and he says you count back from the top of the tide, never from the table alone, because a north wind can hold the water out of the harbour for an hour. So: from about ten past four until half past seven.',
    20: 'My grandfather keeps his boat behind the sill, and he says you count back from the top of the tide, never from the table alone, because a north wind can hold the water out of the harbour for an hour. So from four to seven.',
  },
}

/** What some write first, and take out again. */
const FIRST_THOUGHT = 'I am not sure yet. '

/**
 * An answer to a space, as the updates that writing it makes, and how long after the first each is made, in milliseconds; which of
 * the ways, `variant` tells. Every third is written word by word, the others at once.
 */
export function demoAnswer(space: AnswerSpace, variant: number): { bytes: Uint8Array; after: number }[] | null {
  const ways = ANSWERS[baseAddress(space.id).base]
  const text = ALIKE[baseAddress(space.id).base]?.[variant] ?? ways?.[variant % ways.length]
  if (text === undefined) return null
  const doc = new Y.Doc()
  const updates: { bytes: Uint8Array; after: number }[] = []
  let after = 0
  doc.on('update', (bytes: Uint8Array) => updates.push({ bytes, after }))
  const root = openRoot(doc, space.kind)
  if (root instanceof Y.Map) {
    if (space.kind === 'choice')
      doc.transact(() => {
        for (const place of text.split(' ')) {
          const option = space.options[Number(place) - 1]
          if (option) root.set(option.id, true)
        }
      })
    return updates
  }
  const inside = new Y.XmlText()
  const letters = root instanceof Y.Text ? root : inside
  const isTyped = variant % 3 === 0
  doc.transact(() => {
    if (root instanceof Y.XmlFragment) {
      const paragraph = new Y.XmlElement('paragraph')
      paragraph.insert(0, [inside])
      root.insert(0, [paragraph])
    }
    if (!isTyped) letters.insert(0, text)
  })
  if (!isTyped) return updates
  const type = (words: string) => {
    for (const word of words.match(/\S+\s*/g) ?? []) {
      letters.insert(letters.length, word)
      after += 700
    }
  }
  if (root instanceof Y.XmlFragment) {
    type(FIRST_THOUGHT)
    after += 40_000
    letters.delete(0, letters.length)
    after += 3_000
  }
  type(text)
  return updates
}

/** What somebody adds to an answer of theirs after it stood still: the update, or null where nothing can be added. */
export function demoAfterthought(space: AnswerSpace, answer: readonly Uint8Array[], words: string): Uint8Array | null {
  const doc = newAnswerDoc(space.kind)
  for (const bytes of answer) Y.applyUpdate(doc, bytes)
  const root = openRoot(doc, space.kind)
  if (!(root instanceof Y.XmlFragment)) return null
  const [letters] = (root.get(0) as Y.XmlElement).toArray() as Y.XmlText[]
  const before = Y.encodeStateVector(doc)
  letters!.insert(letters!.length, ` ${words}`)
  return Y.encodeStateAsUpdate(doc, before)
}
