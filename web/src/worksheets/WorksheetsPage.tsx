import { useMutation } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { FindField, isFound } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { useWorksheets } from './queries'

/** A teacher's own worksheets, the one worked on last first. */
export function WorksheetsPage() {
  const worksheets = useWorksheets()
  const navigate = useNavigate()
  const [find, setFind] = useState('')
  const begin = useMutation({
    mutationFn: () => api.post<{ id: string }>('worksheets', { title: 'Untitled worksheet' }),
    onSuccess: ({ id }) => navigate(`/worksheets/${id}`),
  })
  useEffect(() => {
    document.title = 'Worksheets – Gavrin'
  }, [])
  const beginButton = (
    <Button onClick={() => begin.mutate()} disabled={begin.isPending}>
      New worksheet
    </Button>
  )
  return (
    <main className="page">
      <div className="page-head">
        <h1>Worksheets</h1>
        <span className="soft">originals; students only ever write in copies</span>
        <span className="page-acts">{worksheets.data?.length ? beginButton : null}</span>
      </div>
      {begin.error && <Notice kind="bad">{sentenceOf(begin.error)}</Notice>}
      <Loaded query={worksheets}>
        {(list) => {
          if (list.length === 0)
            return (
              <div className="empty">
                <h2>No worksheets yet</h2>
                <p>Write one as students will see it: print that nobody can disturb, and places for their answers.</p>
                {beginButton}
              </div>
            )
          const shown = list.filter(({ title }) => isFound(title, find))
          return (
            <>
              <div className="table-tools">
                <FindField label="Find a worksheet" value={find} change={setFind} />
              </div>
              <table className="grid worksheets">
                <thead>
                  <tr>
                    <th scope="col">Worksheet</th>
                    <th scope="col">Edition</th>
                    <th scope="col" className="n">
                      Answer spaces
                    </th>
                    <th scope="col" className="n">
                      Copies
                    </th>
                    <th scope="col">Changed</th>
                  </tr>
                </thead>
                <tbody>
                  {shown.map((worksheet) => (
                    <tr key={worksheet.id}>
                      <td>
                        <Link className="row-link" to={`/worksheets/${worksheet.id}`}>
                          {worksheet.title}
                        </Link>
                      </td>
                      <td>
                        {worksheet.edition === null ? (
                          <span className="warn">no edition kept yet</span>
                        ) : (
                          <>
                            {worksheet.edition}
                            {worksheet.version !== worksheet.keptVersion && <span className="tag">draft is newer</span>}
                          </>
                        )}
                      </td>
                      <td className="n">{worksheet.edition === null ? '–' : worksheet.answerSpaces}</td>
                      <td className="n">{worksheet.copies}</td>
                      <td>
                        <span title={exactTime(worksheet.updatedAt)}>{timeInWords(worksheet.updatedAt)}</span>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {shown.length === 0 && <p className="soft">No worksheet has this in its title.</p>}
            </>
          )
        }}
      </Loaded>
    </main>
  )
}
