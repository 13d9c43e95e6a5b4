import type { ReactNode } from 'react'
import { durationParts } from '../../../core/shared/duration.ts'
import { Field } from '../../ui/fields.tsx'

const UNITS = {
  minutes: 'minutes',
  hours: 'hours',
  days: 'days',
  weeks: 'weeks',
  months: 'months',
} as const
type Unit = keyof typeof UNITS

const ISO: Readonly<Record<Unit, (amount: number) => string>> = {
  minutes: (amount) => `PT${amount}M`,
  hours: (amount) => `PT${amount}H`,
  days: (amount) => `P${amount}D`,
  weeks: (amount) => `P${amount}W`,
  months: (amount) => `P${amount}M`,
}
const MOST: Readonly<Record<Unit, number>> = {
  minutes: 100_000,
  hours: 10_000,
  days: 3000,
  weeks: 400,
  months: 100,
}

interface Props {
  label: string
  value: string
  onChange: (duration: string) => void
}

/** A duration as an amount of one unit. A day is not 24 hours: it keeps the time of day. */
export function DurationField({ label, value, onChange }: Props): ReactNode {
  const { unit, amount } = readDuration(value)
  const set = (newAmount: number, newUnit: Unit) =>
    onChange(ISO[newUnit](Math.min(MOST[newUnit], Math.max(0, Math.round(newAmount)))))
  return (
    <Field label={label}>
      {(id) => (
        <div className="flex gap-2">
          <input
            id={id}
            type="number"
            min={0}
            className="input input-sm w-24 font-mono"
            value={amount}
            onChange={(event) => set(Number(event.target.value) || 0, unit)}
          />
          <select
            className="select select-sm flex-1"
            aria-label={`${label}: unit`}
            value={unit}
            onChange={(event) => set(amount, event.target.value as Unit)}
          >
            {Object.entries(UNITS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
        </div>
      )}
    </Field>
  )
}

/** The largest unit that says all of a duration; mixed ones are shown in their smallest unit. */
function readDuration(value: string): { unit: Unit; amount: number } {
  const parts = durationParts(value)
  const units = Object.keys(UNITS) as Unit[]
  const unit = units.find((one) => parts[one] > 0) ?? (value.includes('T') ? 'minutes' : 'days')
  return { unit, amount: parts[unit] }
}
