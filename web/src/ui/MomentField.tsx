import { Suspense } from 'react'
import { part } from './part'
import type { MomentProps } from './moment/props'

const Field = part(() => import('./moment/MomentField'))

/**
 * A day and a time, or none: typed or chosen in a calendar, in the order and with the clock of the school, in its zone. Loaded
 * when it is first shown; its place is kept.
 */
export const MomentField = (props: MomentProps) => (
  <Suspense fallback={<div className="moment-coming" aria-busy="true" />}>
    <Field {...props} />
  </Suspense>
)
