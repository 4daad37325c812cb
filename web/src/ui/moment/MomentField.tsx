import { type WallMoment, type WallTime, momentOfWall, wallTimeOf } from '@gavrin/core'
import { CalendarDate, Time, today } from '@internationalized/date'
import { CalendarDays, ChevronLeft, ChevronRight, X } from 'lucide-react'
import { useRef, useState } from 'react'
import {
  Button,
  Calendar,
  CalendarCell,
  CalendarGrid,
  CalendarGridBody,
  CalendarGridHeader,
  CalendarHeaderCell,
  DateField,
  DateInput,
  DateSegment,
  Heading,
  I18nProvider,
  Label,
  TimeField,
} from 'react-aria-components'
import { dateLanguage, timeInWords, zoneName, zoneOfTimes } from '../time'
import type { MomentProps } from './props'
import './moment.css'

const FIRST_YEAR = 2000
const LAST_YEAR = 2100

interface Typed {
  readonly day: CalendarDate | null
  readonly time: Time
}

const inTwo = (value: number) => String(value).padStart(2, '0')
const clockOf = ({ hour, minute }: Pick<WallTime, 'hour' | 'minute'>) => `${inTwo(hour)}:${inTwo(minute)}`

const timeOf = (clock: string) => {
  const [hour, minute] = clock.split(':').map(Number)
  return new Time(hour, minute)
}

function typedOf(at: number | null, usual: string, zone: string): Typed {
  if (at === null) return { day: null, time: timeOf(usual) }
  const { year, month, day, hour, minute } = wallTimeOf(at, zone)
  return { day: new CalendarDate(year, month, day), time: new Time(hour, minute) }
}

const wallOf = ({ day, time }: Typed & { day: CalendarDate }): WallTime => ({
  year: day.year,
  month: day.month,
  day: day.day,
  hour: time.hour,
  minute: time.minute,
})

/** While a year is being typed there is none yet. */
const isMeant = ({ year }: CalendarDate) => year >= FIRST_YEAR && year <= LAST_YEAR

/** A day and a time of the school, typed or chosen in a calendar, in the order in which the school writes them; or none. */
export default function MomentField({ what, at, usual, change, settles = false, problem }: MomentProps) {
  const zone = zoneOfTimes()
  const [typed, setTyped] = useState(() => typedOf(at, usual, zone))
  const [isOpen, setOpen] = useState(false)
  const [told, setTold] = useState(at)
  const [isInside, setInside] = useState(false)
  // Set from elsewhere: undone, emptied, changed by somebody else. Not under the fingers of who is typing.
  if (at !== told && !isInside) {
    setTold(at)
    setTyped(typedOf(at, usual, zone))
  }
  /** @param isDone chosen or emptied at once, not letter by letter */
  const set = (next: Typed, isDone = false) => {
    setTyped(next)
    const { day } = next
    if (day && !isMeant(day)) return
    const moment = day ? momentOfWall(wallOf({ ...next, day }), zone).at : null
    setTold(moment)
    if (moment !== at && (isDone || !settles || !isInside)) change(moment)
  }
  const settle = () => {
    if (settles && told !== at) change(told)
  }
  const toggle = useRef<HTMLButtonElement>(null)
  const closeCalendar = () => {
    setOpen(false)
    // What had the focus is gone.
    toggle.current?.focus()
  }
  const { day, time } = typed
  const meant = day && isMeant(day) ? { ...typed, day } : null
  const moment = meant && momentOfWall(wallOf(meant), zone)
  return (
    <I18nProvider locale={dateLanguage()}>
      {/* What is typed here is for here: arrows go from part to part, not on in whatever the field stands in. */}
      <div
        className="moment"
        role="group"
        aria-label={what}
        onFocus={() => setInside(true)}
        onBlur={({ currentTarget, relatedTarget }) => {
          if (currentTarget.contains(relatedTarget)) return
          setInside(false)
          settle()
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape' && isOpen) closeCalendar()
          else if (event.key === 'Escape' || event.key === 'Tab') return settle()
          else if (event.key === 'Enter') settle()
          event.stopPropagation()
        }}
      >
        <div className="moment-line">
          <DateField
            shouldForceLeadingZeros
            className="moment-part"
            value={day}
            onChange={(next) => set({ ...typed, day: next })}
          >
            <Label className="form-label">Day</Label>
            <DateInput className="form-control form-control-sm moment-input">
              {(segment) => <DateSegment segment={segment} className="moment-segment" />}
            </DateInput>
          </DateField>
          <TimeField
            shouldForceLeadingZeros
            className="moment-part"
            value={time}
            onChange={(next) => next && set({ ...typed, time: new Time(next.hour, next.minute) })}
          >
            <Label className="form-label">Time</Label>
            <DateInput className="form-control form-control-sm moment-input">
              {(segment) => <DateSegment segment={segment} className="moment-segment" />}
            </DateInput>
          </TimeField>
          <button
            type="button"
            className="btn btn-sm btn-outline-dark moment-button"
            ref={toggle}
            aria-expanded={isOpen}
            aria-label={`Calendar: ${what}`}
            title="Calendar"
            onClick={() => setOpen(!isOpen)}
          >
            <CalendarDays size={16} aria-hidden="true" />
          </button>
          {day && (
            <button
              type="button"
              className="btn btn-sm btn-link moment-button"
              aria-label={`Empty: ${what}`}
              title="Empty"
              onClick={() => {
                set({ day: null, time: timeOf(usual) }, true)
                toggle.current?.focus()
              }}
            >
              <X size={16} aria-hidden="true" />
            </button>
          )}
        </div>
        {isOpen && (
          <Calendar
            className="moment-calendar"
            aria-label={`Calendar: ${what}`}
            value={meant?.day ?? null}
            defaultFocusedValue={meant?.day ?? today(zone)}
            autoFocus
            minValue={new CalendarDate(FIRST_YEAR, 1, 1)}
            maxValue={new CalendarDate(LAST_YEAR, 12, 31)}
            onChange={(next) => {
              set({ ...typed, day: next }, true)
              closeCalendar()
            }}
          >
            <div className="moment-month">
              <Button slot="previous" className="btn btn-sm btn-link">
                <ChevronLeft size={16} aria-hidden="true" />
              </Button>
              <Heading level={3} />
              <Button slot="next" className="btn btn-sm btn-link">
                <ChevronRight size={16} aria-hidden="true" />
              </Button>
            </div>
            <CalendarGrid weekdayStyle="short">
              <CalendarGridHeader>{(name) => <CalendarHeaderCell>{name}</CalendarHeaderCell>}</CalendarGridHeader>
              <CalendarGridBody>{(date) => <CalendarCell date={date} className="moment-day" />}</CalendarGridBody>
            </CalendarGrid>
          </Calendar>
        )}
        {day && !meant && (
          <div className="bad">
            A year between {FIRST_YEAR} and {LAST_YEAR} is needed.
          </div>
        )}
        {meant && moment && told !== null && (
          <Meaning
            wall={wallOf(meant)}
            moment={moment}
            at={told}
            zone={zone}
            choose={(one) => {
              setTold(one)
              change(one)
            }}
          />
        )}
        {problem && (
          <div className="bad" role="alert">
            {problem}
          </div>
        )}
      </div>
    </I18nProvider>
  )
}

interface MeaningProps {
  readonly wall: WallTime
  readonly moment: WallMoment
  readonly at: number
  readonly zone: string
  readonly choose: (at: number) => void
}

/** What a time that was typed means, in words; more where clocks change. */
function Meaning({ wall, moment, at, zone, choose }: MeaningProps) {
  const words = <span className="moment-words">{timeInWords(at)}</span>
  if (moment.shown === 'never')
    return (
      <div className="moment-meaning" role="status">
        {words}
        <span>
          {clockOf(wall)} is not there in {zoneName(zone)} on this day: clocks are put forward over it.{' '}
          {clockOf(wallTimeOf(moment.at, zone))} is meant.
        </span>
      </div>
    )
  if (moment.shown === 'twice')
    return (
      <fieldset className="moment-meaning">
        <legend>
          {clockOf(wall)} comes twice in {zoneName(zone)} on this day: clocks are put back.
        </legend>
        {[moment.at, moment.second].map((one, index) => (
          <label key={one}>
            <input type="radio" checked={at === one} onChange={() => choose(one)} />{' '}
            {index === 0 ? 'the first time' : 'the second time'} <span className="soft">({offsetOf(one, zone)})</span>
          </label>
        ))}
      </fieldset>
    )
  return (
    <div className="moment-meaning" role="status">
      {words}
    </div>
  )
}

/** How far a zone is from that of Greenwich, at a moment: "GMT+1". */
const offsetOf = (at: number, timeZone: string) =>
  new Intl.DateTimeFormat(dateLanguage(), { timeZone, timeZoneName: 'shortOffset' })
    .formatToParts(at)
    .find(({ type }) => type === 'timeZoneName')?.value ?? ''
