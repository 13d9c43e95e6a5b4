import { useRef, useState, type ReactNode } from 'react'

interface Props {
  id?: string
  label?: string
  /** Hours and minutes of 24: `09:00`; empty where none is set. */
  value: string
  onChange: (time: string) => void
  /** Just wide enough, where it stands beside a date. */
  narrow?: boolean
}

/**
 * A time of day, always of 24 hours: a browser's own field follows the browser's language, and
 * would say "6:20 PM" where the timetable says 18:20. What is no time is not passed on.
 */
export function ClockInput({ id, label, value, onChange, narrow }: Props): ReactNode {
  const [typed, setTyped] = useState<string | null>(null)
  // What was passed on may not have come back yet: it is not passed on twice.
  const passedOn = useRef(value)
  const pass = (time: string) => {
    if (time === passedOn.current) return
    passedOn.current = time
    onChange(time)
  }
  return (
    <input
      id={id}
      aria-label={label}
      className={`input input-sm font-mono ${narrow === true ? 'w-18' : 'w-28'}`}
      inputMode="numeric"
      placeholder="hh:mm"
      maxLength={5}
      value={typed ?? value}
      onChange={({ target }) => {
        if (typed === null) passedOn.current = value
        setTyped(target.value)
        if (WHOLE.test(target.value)) pass(target.value)
      }}
      onBlur={() => {
        const time = typed === null ? null : timeIn(typed)
        if (time !== null) pass(time)
        setTyped(null)
      }}
    />
  )
}

const WHOLE = /^([01]\d|2[0-3]):[0-5]\d$/

/** What is meant by `9`, `930` or `9.30`; null where it is no time of day. */
function timeIn(typed: string): string | null {
  const [, hours, minutes] = /^(\d{1,2})[:.]?(\d{2})?$/.exec(typed.trim()) ?? []
  if (hours === undefined) return null
  const time = `${hours.padStart(2, '0')}:${minutes ?? '00'}`
  return WHOLE.test(time) ? time : null
}
