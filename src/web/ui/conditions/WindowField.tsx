import type { ReactNode } from 'react'
import type { Window } from '../../../core/conditions/condition.ts'
import { ChoiceField } from '../fields/fields.tsx'
import { useScope } from './scope.ts'
import { useToday } from '../data/useToday.ts'

const WINDOWS = {
  ever: 'ever',
  sinceEntry: 'since entry',
  lastDays: 'in the last … days',
  between: 'between two dates',
} as const

interface Props {
  value: Window
  onChange: (window: Window) => void
}

/** The span of time in which past things count. */
export function WindowField({ value, onChange }: Props): ReactNode {
  const today = useToday()
  const { isOfPeople = false } = useScope()
  const { sinceEntry, ...others } = WINDOWS
  const choices = isOfPeople ? others : { ...others, sinceEntry }
  return (
    <div className="flex flex-wrap items-center gap-2">
      <div className="min-w-32 flex-1">
        <ChoiceField
          hideLabel
          label="When"
          value={value.kind}
          choices={choices as typeof WINDOWS}
          onChange={(kind) => onChange(windowOf(kind, today()))}
        />
      </div>
      {value.kind === 'lastDays' && (
        <input
          type="number"
          min={1}
          max={3650}
          aria-label="Days"
          className="input input-sm w-20 font-mono"
          value={value.days}
          onChange={(typed) =>
            onChange({ kind: 'lastDays', days: whole(typed.target.value, 1, 3650) })
          }
        />
      )}
      {value.kind === 'between' && (
        <div className="flex w-full items-center gap-2">
          <DateInput
            label="From"
            value={value.from}
            onChange={(from) => onChange({ ...value, from })}
          />
          <span className="text-xs">to</span>
          <DateInput label="To" value={value.to} onChange={(to) => onChange({ ...value, to })} />
        </div>
      )}
    </div>
  )
}

/** A calendar date; what is no date is not passed on. */
export function DateInput({
  label,
  value,
  onChange,
}: {
  label: string
  value: string
  onChange: (date: string) => void
}): ReactNode {
  return (
    <input
      type="date"
      aria-label={label}
      className="input input-sm min-w-0 flex-1 font-mono"
      // Years of four digits; without an end to them a browser takes six.
      max="9999-12-31"
      value={value}
      onChange={(event) => event.target.value !== '' && onChange(event.target.value)}
    />
  )
}

/** A span to begin with: between two dates it is the year so far. */
function windowOf(kind: Window['kind'], today: string): Window {
  if (kind === 'lastDays') return { kind, days: 30 }
  if (kind === 'between') return { kind, from: `${today.slice(0, 4)}-01-01`, to: today }
  return { kind }
}

/** What was typed as a whole number within limits. */
export function whole(text: string, min: number, max: number): number {
  const typed = Math.round(Number(text))
  return Number.isFinite(typed) ? Math.min(max, Math.max(min, typed)) : min
}
