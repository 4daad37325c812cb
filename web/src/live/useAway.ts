import { useSyncExternalStore } from 'react'
import { live } from './connection'

const subscribe = (changed: () => void) => live().subscribe(changed)
const isAway = () => live().isAway

/** Whether the live connection cannot be had now. */
export function useAway(): boolean {
  return useSyncExternalStore(subscribe, isAway, () => false)
}
