import type { ReactNode } from 'react'
import { WEEKDAYS } from '../../../../core/words/quantities.ts'

interface Props {
  value: readonly number[]
  onChange: (weekdays: number[]) => void
}

/** Days of the week, at least one. ISO 8601: 1 is Monday. */
export function WeekdaysField({ value, onChange }: Props): ReactNode {
  const toggle = (day: number) => {
    const next = value.includes(day) ? value.filter((one) => one !== day) : [...value, day]
    if (next.length > 0) onChange(next.toSorted((a, b) => a - b))
  }
  return (
    <div className="flex gap-1" role="group" aria-label="Weekdays">
      {WEEKDAYS.map((name, index) => (
        <button
          key={name}
          type="button"
          aria-pressed={value.includes(index + 1)}
          className={`btn btn-xs px-1.5 ${value.includes(index + 1) ? 'btn-neutral' : ''}`}
          onClick={() => toggle(index + 1)}
        >
          {name}
        </button>
      ))}
    </div>
  )
}
