import { STAFF_ROLES, fullName, mayInClass } from '@gavrin/core'
import type { ReactNode } from 'react'
import { useEffect } from 'react'
import { NavLink } from 'react-router'
import { inkName } from '../ui/inks'
import { type ClassOpened, useClassWatch } from './queries'
import './class.css'

interface Props {
  readonly opened: ClassOpened
  readonly present: number
  /** What can be done, at the end of the head line. */
  readonly acts?: ReactNode
  readonly children: ReactNode
}

/** The head of all pages of a class: what it is called, who is in it, and its places. */
export function ClassFrame({ opened, present, acts, children }: Props) {
  useClassWatch(opened.id)
  useEffect(() => {
    document.title = `${opened.name} – Gavrin`
  }, [opened.name])
  const at = `/class/${opened.id}`
  const may = mayInClass(opened.role, 'set up the class').may
  return (
    <main className="page class-page">
      <div className="page-head no-print">
        <h1>{opened.name}</h1>
        <span className="soft class-about">
          {[opened.subject, opened.year].filter(Boolean).join(', ')} · {present}{' '}
          {present === 1 ? 'student' : 'students'} ·{' '}
          {opened.staff
            .slice(0, 3)
            .map((person) => `${fullName(person)} ${STAFF_ROLES.find(({ role }) => role === person.role)?.does ?? ''}`)
            .join(', ')}
          {opened.staff.length > 3 && ` and ${opened.staff.length - 3} more`} ·{' '}
          <span className="ink-sample" data-ink={inkName(opened.ink)}>
            answers in {opened.ink}
          </span>
          {opened.archived && <span className="tag tag-warn">archived</span>}
        </span>
        <span className="page-acts">{acts}</span>
      </div>
      <nav className="class-tabs no-print" aria-label="Places of the class">
        <NavLink to={at} end>
          Roster
        </NavLink>
        <NavLink to={`${at}/overview`} title="Students by handouts">
          Overview
        </NavLink>
        <NavLink to={`${at}/groups`}>Groups</NavLink>
        <NavLink to={`${at}/staff`}>Staff</NavLink>
        <NavLink to={`${at}/shelf`} title="What is open to the class at any time">
          Shelf
        </NavLink>
        {may && <NavLink to={`${at}/join`}>Join page</NavLink>}
        {may && <NavLink to={`${at}/set-up`}>Set up</NavLink>}
      </nav>
      {children}
    </main>
  )
}
