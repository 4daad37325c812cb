import { useEffect, useMemo, useRef, useState } from 'react'
import { EmptySpace } from '../sheet/place'
import { Sheet, paperShape } from '../sheet/Sheet'
import { SheetContext, inLibrary } from '../sheet/surroundings'
import { useFirstPage } from './queries'

/** Width of the page that is drawn, in pixels; it is shown as small as its place. */
const DRAWN = 760

/** The first page of a worksheet, small: the page itself, drawn once it comes into view. */
export function Thumbnail({ id, version }: { readonly id: string; readonly version: number }) {
  const place = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState(false)
  const [width, setWidth] = useState(0)
  const page = useFirstPage(id, version, seen)
  const surroundings = useMemo(() => inLibrary(id), [id])
  useEffect(() => {
    const element = place.current
    if (!element) return
    const watcher = new IntersectionObserver(
      ([entry]) => {
        if (!entry?.isIntersecting) return
        setSeen(true)
        setWidth(element.clientWidth)
        watcher.disconnect()
      },
      { rootMargin: '200px' },
    )
    watcher.observe(element)
    return () => watcher.disconnect()
  }, [])
  return (
    <div ref={place} className="thumbnail" style={page.data && paperShape(page.data.content)} aria-hidden="true" inert>
      {page.data && (
        <div className="thumbnail-page" style={{ width: DRAWN, transform: `scale(${width / DRAWN})` }}>
          <SheetContext value={surroundings}>
            <Sheet content={page.data.content} ink="deep blue" answer={(space) => <EmptySpace space={space} />} />
          </SheetContext>
        </div>
      )}
    </div>
  )
}
