import { findAll, fullName, isFound } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { type KeyboardEvent, useId, useLayoutEffect, useRef, useState } from 'react'
import { Form } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { useClasses, useCurrentClass } from '../class/queries'
import { api } from '../ui/api'
import { commandsFor } from './commands'
import './finder.css'
import type { Answers } from '../contract'

type FoundAll = Answers['GET find']

const NOTHING: FoundAll = { people: [], worksheets: [], handouts: [] }

interface Found {
  readonly key: string
  readonly name: string
  readonly about: string
  readonly address: string
}

/** Finds classes, people, handouts, worksheets and what can be done, from anywhere; "/" goes to it. */
export function Finder({ isOffice }: { readonly isOffice: boolean }) {
  const navigate = useNavigate()
  const id = useId()
  const field = useRef<HTMLInputElement>(null)
  const [typed, setTyped] = useState('')
  const [open, setOpen] = useState(false)
  const [at, setAt] = useState(0)
  const classes = useClasses().data ?? []
  const current = useCurrentClass()
  const answer = useQuery({
    queryKey: ['find', typed.trim()],
    queryFn: () => api.get<FoundAll>(`find?typed=${encodeURIComponent(typed.trim())}`),
    enabled: typed.trim() !== '',
    placeholderData: (before) => before,
    staleTime: 10_000,
  })
  // At once with the picture: a page counts as listened to from then on (see takeOver.tsx).
  useLayoutEffect(() => {
    const pressed = (event: KeyboardEvent | globalThis.KeyboardEvent) => {
      if (event.key !== '/' || event.ctrlKey || event.metaKey || event.altKey) return
      if ((event.target as HTMLElement).closest('input, textarea, select, [contenteditable], [role=grid]')) return
      event.preventDefault()
      field.current?.focus()
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  }, [])

  const { people, worksheets, handouts } = answer.data ?? NOTHING
  const found: Found[] = typed.trim()
    ? [
        ...findAll(classes, ({ name, subject, year }) => `${name} ${subject} ${year}`, typed, 3).map(
          ({ id: classId, name, subject, year, archived }) => ({
            key: classId,
            name,
            about: `class · ${subject} ${year}${archived ? ' · archived' : ''}`,
            address: `/class/${classId}`,
          }),
        ),
        ...people.map((person) => ({
          key: person.personId,
          name: fullName(person),
          about: person.role === 'student' ? person.classes || 'in no class' : `staff · ${person.classes}`,
          address: `/person/${person.personId}`,
        })),
        ...handouts.map(({ id: handoutId, classId, class: name, number, title, handedOut, archived }) => ({
          key: handoutId,
          name: title || 'Untitled',
          about: `${handedOut ? 'handout' : 'draft'} · ${name}, No. ${number}${archived ? ' · archived' : ''}`,
          address: `/class/${classId}/${handedOut ? 'handouts' : 'slip'}/${handoutId}`,
        })),
        ...worksheets.map(({ id: worksheetId, title, archived }) => ({
          key: worksheetId,
          name: title,
          about: `worksheet${archived ? ' · archived' : ''}`,
          address: `/worksheets/${worksheetId}`,
        })),
        ...findAll(commandsFor(current, isOffice), ({ name }) => name, typed, 4).map(({ name, address }) => ({
          key: address,
          name,
          about: 'go there',
          address,
        })),
        // What an earlier answer found stays only as far as it fits what is typed by now.
      ].filter(({ name, about }) => !answer.isPlaceholderData || isFound(`${name} ${about}`, typed))
    : []
  const go = (chosen: Found | undefined) => {
    if (!chosen) return
    setOpen(false)
    setTyped('')
    field.current?.blur()
    void navigate(chosen.address)
  }
  const pressed = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step) setAt((now) => Math.max(0, Math.min(found.length - 1, now + step)))
    else if (event.key === 'Enter') go(found[at])
    else if (event.key === 'Escape') {
      setOpen(false)
      field.current?.blur()
    } else return
    event.preventDefault()
  }
  const shown = open && typed.trim() !== ''
  return (
    <div className="finder" role="search">
      <Form.Control
        ref={field}
        size="sm"
        type="search"
        role="combobox"
        aria-label="Find anything"
        aria-expanded={shown}
        aria-controls={`${id}-list`}
        aria-activedescendant={shown && found[at] ? `${id}-${at}` : undefined}
        aria-keyshortcuts="/"
        autoComplete="off"
        placeholder="Find anything"
        value={typed}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={({ target }) => {
          setTyped(target.value)
          setAt(0)
          setOpen(true)
        }}
        onKeyDown={pressed}
      />
      {!shown && <kbd aria-hidden="true">/</kbd>}
      {shown && (
        <ul id={`${id}-list`} role="listbox" aria-label="Found" className="finder-list">
          {found.map((one, index) => (
            <li
              key={one.key}
              id={`${id}-${index}`}
              role="option"
              aria-selected={index === at}
              className={index === at ? 'active' : undefined}
              onMouseDown={(event) => event.preventDefault()}
              onMouseEnter={() => setAt(index)}
              onClick={() => go(one)}
            >
              <bdi>{one.name}</bdi> <span className="soft">{one.about}</span>
            </li>
          ))}
          {found.length === 0 && (
            <li className="soft" role="option" aria-selected="false" aria-disabled="true">
              {answer.isFetching ? 'Looking …' : 'Nobody and nothing of that name.'}
            </li>
          )}
        </ul>
      )}
    </div>
  )
}
