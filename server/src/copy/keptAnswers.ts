import {
  type AnswerSpace,
  answerSpaces,
  answerText,
  baseAddress,
  keptContent,
  readAnswer,
  spaceLabels,
} from '@gavrin/core'
import type { DataSource } from 'typeorm'
import type { DocLoader } from '../kept/docLoader.js'
import { loadSpaces } from '../kept/spaces.queries.js'
import type { CopyRecord } from '../kept/copyRecord.js'
import { spacesWrittenIn, editionsEverGiven } from './copy.queries.js'

/** An answer whose space the edition of the copy does not have any more. */
export interface KeptAnswer {
  readonly space: string
  readonly label: string
  readonly text: string
  /** The edition it was asked in. */
  readonly edition: number
}

/** What was written in spaces that a later edition, or another worksheet, has removed: kept, and shown as such. */
export async function keptAnswers(source: DataSource, loader: DocLoader, copy: CopyRecord): Promise<KeptAnswer[]> {
  const there = new Set(answerSpaces(copy.content).map(({ id }) => id))
  const written = await spacesWrittenIn(source, copy.schoolId, copy.copyId)
  const gone = written.map(({ space }) => space).filter((space) => !there.has(space))
  if (gone.length === 0) return []
  const editions = await editionsEverGiven(source, copy.schoolId, copy.worksheetId, copy.handoutId)
  const found = new Map<string, { space: AnswerSpace; label: string; edition: number }>()
  for (const { number, content } of editions) {
    const worksheet = keptContent(content)
    const labels = spaceLabels(worksheet)
    for (const space of answerSpaces(worksheet))
      for (const address of gone)
        if (!found.has(address) && (address === space.id || baseAddress(address).base === space.id))
          found.set(address, { space, label: labels.get(space.id) ?? '', edition: number })
    if (found.size === gone.length) break
  }
  const stored = await loadSpaces(source, copy.schoolId, copy.copyId)
  const kept: KeptAnswer[] = []
  for (const address of gone) {
    const asked = found.get(address)
    const doc = asked && (await loader.load(asked.space.kind, stored.get(address)?.updates ?? []))
    if (!asked || !doc) continue
    const text = answerText(asked.space, readAnswer(asked.space, doc))
    if (text) kept.push({ space: address, label: asked.label, text, edition: asked.edition })
    doc.destroy()
  }
  return kept
}
