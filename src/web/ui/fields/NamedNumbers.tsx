import type { ReactNode } from 'react'
import { MONTHS, WEEKDAYS } from '../../../core/words/quantities.ts'

interface Props {
  value: readonly number[]
  onChange: (numbers: number[]) => void
}

/** Days of the week, at least one. ISO 8601: 1 is Monday. */
export function WeekdaysField(props: Props): ReactNode {
  return <NamedNumbers {...props} label="Weekdays" names={WEEKDAYS} />
}

const SHORT_MONTHS = MONTHS.map((name) => name.slice(0, 3))

/** Months, at least one; 1 is January. */
export function MonthsField(props: Props): ReactNode {
  return <NamedNumbers {...props} label="Months" names={SHORT_MONTHS} titles={MONTHS} />
}

interface NamedProps extends Props {
  label: string
  /** Of the numbers from 1 on. */
  names: readonly string[]
  titles?: readonly string[]
}

function NamedNumbers({ value, onChange, label, names, titles }: NamedProps): ReactNode {
  const toggle = (number: number) => {
    const next = value.includes(number) ? value.filter((one) => one !== number) : [...value, number]
    if (next.length > 0) onChange(next.toSorted((a, b) => a - b))
  }
  return (
    <div className="flex flex-wrap gap-1" role="group" aria-label={label}>
      {names.map((name, index) => (
        <button
          key={name}
          type="button"
          aria-pressed={value.includes(index + 1)}
          aria-label={titles?.[index]}
          className={`btn btn-xs px-1.5 ${value.includes(index + 1) ? 'btn-neutral' : ''}`}
          onClick={() => toggle(index + 1)}
        >
          {name}
        </button>
      ))}
    </div>
  )
}
