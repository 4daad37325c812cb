import type { Statement } from '@gavrin/core'
import { useMemo, useState } from 'react'
import { api, sentenceOf } from '../ui/api'
import type { SlipData, SlipPart } from './queries'

/** The classes of a slip with what their proof needs; those that are added are read when they are. */
export function useParts(data: SlipData, statement: Statement) {
  const [added, setAdded] = useState<readonly SlipPart[]>([])
  const [trouble, setTrouble] = useState<string | null>(null)
  const { classes } = statement
  const parts = useMemo(() => {
    const known = [
      ...data.parts,
      ...added.filter(({ classId }) => !data.parts.some((part) => part.classId === classId)),
    ]
    return classes.flatMap(({ classId }) => known.find((part) => part.classId === classId) ?? [])
  }, [data.parts, added, classes])
  const addClass = async (classId: string): Promise<boolean> => {
    setTrouble(null)
    if (data.parts.some((part) => part.classId === classId) || added.some((part) => part.classId === classId))
      return true
    try {
      const part = await api.get<SlipPart>(`classes/${classId}/handouts/facts`)
      setAdded((before) => [...before, part])
      return true
    } catch (error) {
      setTrouble(sentenceOf(error))
      return false
    }
  }
  return { parts, addClass, trouble }
}
