import { type FileAnswer } from '@gavrin/core'
import { useMemo } from 'react'
import type { OpenCopy } from '../live/openCopy'
import type { SheetSurroundings } from '../sheet/surroundings'
import type { CopyPageData } from './queries'
import { api } from '../ui/api'
import type { Answers } from '../contract'

/** The surroundings of a sheet that is a copy: its pictures, its answers, the files handed in on it. */
export function useCopySheet(
  { id: copyId, language, content: { spelling } }: Pick<CopyPageData, 'id' | 'language' | 'content'>,
  copy: OpenCopy | null,
  generation: number,
): SheetSurroundings {
  return useMemo(
    () => ({
      mediaUrl: (id) => `/api/copies/${copyId}/media/${id}`,
      docOf: copy && ((space) => copy.doc(space)),
      seed: copyId,
      language,
      spelling: spelling !== false,
      hintOf: async (space) =>
        (await api.get<Answers['GET copies/{copyId}/hint']>(`copies/${copyId}/hint?space=${encodeURIComponent(space)}`))
          .hint,
      files: {
        add: async (space, file) =>
          api.post<FileAnswer>(
            `copies/${copyId}/files?space=${encodeURIComponent(space)}&name=${encodeURIComponent(file.name)}`,
            new Uint8Array(await file.arrayBuffer()),
          ),
        url: (id) => `/api/copies/${copyId}/files/${id}`,
      },
    }),
    // A new generation has new documents.
    // oxlint-disable-next-line react/exhaustive-deps
    [copyId, language, spelling, copy, generation],
  )
}
