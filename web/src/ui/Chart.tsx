import type { ApexOptions } from 'apexcharts'
import { useEffect, useRef } from 'react'
import 'apexcharts/dist/apexcharts.css'

interface Props {
  readonly options: ApexOptions
  /** What it shows, in words: for who does not see it. */
  readonly label: string
  /** In pixels. */
  readonly height: number
}

/** The package would write its style sheet into the page, which no page here lets anybody do: it is delivered as a file. */
function keepStyleOut(): void {
  if (document.getElementById('apexcharts-css')) return
  const there = document.createElement('template')
  there.id = 'apexcharts-css'
  document.head.append(there)
}

/** A chart, drawn by a package that is loaded with it. */
export function Chart({ options, label, height }: Props) {
  const place = useRef<HTMLDivElement>(null)
  const chart = useRef<{ updateOptions: (options: ApexOptions, redraw: boolean, animate: boolean) => unknown } | null>(
    null,
  )
  const latest = useRef(options)
  latest.current = options
  useEffect(() => {
    let gone = false
    let destroy = () => undefined as void
    void import('apexcharts').then(({ default: ApexCharts }) => {
      if (gone || !place.current) return
      keepStyleOut()
      const made = new ApexCharts(place.current, latest.current)
      destroy = () => made.destroy()
      return made.render().then(() => {
        if (!gone) chart.current = made
      })
    })
    return () => {
      gone = true
      chart.current = null
      destroy()
    }
  }, [])
  useEffect(() => {
    void chart.current?.updateOptions(options, false, false)
  }, [options])
  return <div ref={place} role="img" aria-label={label} style={{ height }} />
}
