import { fullName } from '@gavrin/core'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { PersonMenu } from '../frame/PersonMenu'
import { Wordmark } from '../frame/Wordmark'
import type { SignedIn } from '../frame/session'
import './student.css'

/** The header line over what a student goes to. */
export function StudentFrame({ person, children }: { readonly person: SignedIn; readonly children: ReactNode }) {
  return (
    <div className="student">
      <header className="top">
        <Link to="/" className="word">
          <Wordmark />
        </Link>
        <span className="top-end">
          <PersonMenu person={person} name={fullName(person)} />
        </span>
      </header>
      {children}
    </div>
  )
}
