import { useSyncExternalStore } from 'react'
import { live } from './connection'

/** Whether the live connection is there now. */
export function useConnected(): boolean {
  return useSyncExternalStore(live().subscribe, () => live().isOpen)
}
