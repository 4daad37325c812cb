import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { PublicPage } from '../frame/PublicPage'

interface ShippedPackage {
  readonly name: string
  readonly version: string
  readonly license: string
  readonly text: string
}

async function fetchNotices(): Promise<ShippedPackage[]> {
  const answer = await fetch('/assets/notices.json')
  if (!answer.ok) throw new Error('no notices')
  return (await answer.json()) as ShippedPackage[]
}

/** What Gavrin is, and the notices of all it is made with. */
export default function AboutGavrin() {
  const notices = useQuery({ queryKey: ['notices'], queryFn: fetchNotices, staleTime: Infinity })
  const [find, setFind] = useState('')
  useEffect(() => {
    document.title = 'About – Gavrin'
  }, [])
  return (
    <PublicPage title="About Gavrin" wide>
      <p>
        Gavrin gives worksheets out from the roster of a class and has them back when they are submitted. It is free
        software under the Apache License 2.0, and made with the packages below, whose authors keep their rights.
      </p>
      <p>
        <Link to="/">Back to Gavrin</Link>
      </p>
      <Loaded query={notices}>
        {(all) => {
          const wanted = find.trim().toLowerCase()
          const shown = all.filter(({ name, license }) => `${name} ${license}`.toLowerCase().includes(wanted))
          return (
            <>
              <FindField label="Find a package or a licence" value={find} change={setFind} />
              <p className="soft" role="status">
                {shown.length} of {all.length} packages
              </p>
              {shown.map(({ name, version, license, text }) => (
                <details key={`${name} ${version}`} className="notice-of">
                  <summary>
                    {name} {version} <span className="soft">{license}</span>
                  </summary>
                  <pre tabIndex={0}>{text || `Its package has no text of its own; its licence is ${license}.`}</pre>
                </details>
              ))}
            </>
          )
        }}
      </Loaded>
    </PublicPage>
  )
}
