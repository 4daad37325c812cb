import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'

/** Whether the page is being printed: what is only partly in it otherwise is then there as a whole. */
export function usePrinting(): boolean {
  const [isPrinting, setPrinting] = useState(false)
  useEffect(() => {
    // The browser takes the page as it is when these return.
    const begin = () => flushSync(() => setPrinting(true))
    const end = () => setPrinting(false)
    window.addEventListener('beforeprint', begin)
    window.addEventListener('afterprint', end)
    return () => {
      window.removeEventListener('beforeprint', begin)
      window.removeEventListener('afterprint', end)
    }
  }, [])
  return isPrinting
}
