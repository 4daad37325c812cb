import { type Change, fingerprintChanges } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { ApiError, api } from '../ui/api'
import { forgetHanding, rememberHanding, wasHandingOut } from './begun'
import { type Run, handoutsKey } from './queries'
import type { Bodies } from '../contract'

interface Wish {
  readonly classId: string
  /** Null: a slip that is not kept yet. */
  readonly handoutId: string | null
  /** When it was last begun to be handed out. */
  readonly lastRunAt: number | null
  /** Keeps the slip; its id and version, or null if it could not be kept. */
  readonly keep: () => Promise<{ id: string; version: number } | null>
  /** The changes in the proof as it is now. */
  readonly changesNow: () => readonly Change[]
  /** Reads the classes again. */
  readonly refresh: () => Promise<unknown>
}

/** Handing out, as far as it is; what failed of it tried again; the last one undone. */
export function useHandOut({ classId, handoutId, lastRunAt, keep, changesNow, refresh }: Wish) {
  const client = useQueryClient()
  const navigate = useNavigate()
  // Loaded again while it was being handed out: it goes on where it is.
  const [running, setRunning] = useState<string | null>(() => (wasHandingOut(handoutId, lastRunAt) ? handoutId : null))
  const run = useQuery({
    queryKey: ['run', running],
    queryFn: () => api.get<Run>(`handouts/${running}/hand-out`),
    enabled: running !== null,
    refetchInterval: ({ state: { data: last } }) => (last?.finished ? false : 400),
    gcTime: 0,
    staleTime: 0,
  })
  const handOut = useMutation({
    mutationFn: async () => {
      const kept = await keep()
      if (!kept)
        throw new ApiError(
          0,
          'slip-not-kept',
          'Nothing was handed out, because the slip could not be kept. Try again in a moment.',
        )
      rememberHanding(kept.id, lastRunAt)
      const begun = await api.post<Run>(`handouts/${kept.id}/hand-out`, {
        version: kept.version,
        fingerprint: fingerprintChanges(changesNow()),
      } satisfies Bodies['POST handouts/{handoutId}/hand-out'])
      return { ...begun, id: kept.id }
    },
    onSuccess: ({ id }) => setRunning(id),
    onError: async (error) => {
      forgetHanding()
      if (error instanceof ApiError && (error.code === 'proof-changed' || error.code === 'nothing-to-do'))
        await refresh()
    },
  })
  const retry = useMutation({
    mutationFn: (slotKeys: readonly string[] | null) =>
      api.post<Run>(
        `handouts/${running}/hand-out/retry`,
        (slotKeys ? { slotKeys } : {}) satisfies Bodies['POST handouts/{handoutId}/hand-out/retry'],
      ),
    onSuccess: async () => {
      await run.refetch()
      await refresh()
    },
  })
  const undone = async () => {
    await client.invalidateQueries({ queryKey: handoutsKey(classId) })
    await client.invalidateQueries({ queryKey: ['board', handoutId] })
    await navigate(0)
  }
  const failures = useMemo(
    () => new Map(run.data?.failures.map(({ slotKey, reason }) => [slotKey, reason]) ?? []),
    [run.data?.failures],
  )
  const finished = run.data?.finished === true
  const failed = failures.size
  useEffect(() => {
    if (!finished || running === null) return
    forgetHanding()
    void client.invalidateQueries({ queryKey: handoutsKey(classId) })
    void client.invalidateQueries({ queryKey: ['board', running] })
    if (failed === 0) void navigate(`/class/${classId}/handouts/${running}`)
    else void refresh()
    // What is read again is not a reason to go on.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [finished, running, failed, client, classId, navigate])
  return {
    handOut: () => handOut.mutate(),
    retry: (slotKeys: readonly string[] | null) => retry.mutate(slotKeys),
    undone: () => void undone(),
    run: run.data ?? null,
    failures,
    isRetrying: retry.isPending,
    busy: handOut.isPending || (running !== null && !finished),
    trouble: handOut.error ?? retry.error,
  }
}

export type HandingOut = ReturnType<typeof useHandOut>
