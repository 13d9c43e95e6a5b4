import type { ReactNode } from 'react'
import { durationParts, type DurationParts } from '../../../../core/shared/duration.ts'
import { durationWords } from '../../../../core/words/quantities.ts'
import { Field } from '../../../ui/fields/fields.tsx'

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

/**
 * A duration as an amount of one unit. A day is not 24 hours: it keeps the time of day. One that no
 * unit says, as "1 day 2 hours", stays as it is until another is chosen.
 */
export function DurationField({ label, value, onChange }: Props): ReactNode {
  const read = readDuration(value)
  const set = (amount: number, unit: Unit) =>
    onChange(ISO[unit](Math.min(MOST[unit], Math.max(0, Math.round(amount)))))
  return (
    <Field label={label}>
      {(id) => (
        <div className="flex gap-2">
          <input
            id={id}
            type="number"
            min={0}
            className="input input-sm w-24 font-mono"
            value={read?.amount ?? ''}
            disabled={!read}
            onChange={(event) => read && set(Number(event.target.value) || 0, read.unit)}
          />
          <select
            className="select select-sm flex-1"
            aria-label={`${label}: unit`}
            value={read?.unit ?? MIXED}
            onChange={(event) => set(read?.amount ?? 1, event.target.value as Unit)}
          >
            {!read && <option value={MIXED}>{durationWords(value)}</option>}
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

const MIXED = 'mixed'

/** The units that are made of one another, whatever the day: the smallest, and how many make the larger. */
const KIN: readonly { unit: Unit; of: Partial<DurationParts> }[] = [
  { unit: 'minutes', of: { minutes: 1, hours: 60 } },
  { unit: 'days', of: { days: 1, weeks: 7 } },
  { unit: 'months', of: { months: 1, years: 12 } },
]

/** The unit that says all of a duration, and how many of it; null when none does. */
function readDuration(value: string): { unit: Unit; amount: number } | null {
  const parts = durationParts(value)
  const named = (Object.keys(parts) as (keyof DurationParts)[]).filter((one) => parts[one] > 0)
  const [only, ...others] = named
  if (only === undefined) return { unit: value.includes('T') ? 'minutes' : 'days', amount: 0 }
  if (others.length === 0 && only in UNITS) return { unit: only as Unit, amount: parts[only] }
  const kin = KIN.find(({ of }) => named.every((one) => one in of))
  if (!kin) return null
  const amount = named.reduce((sum, one) => sum + parts[one] * (kin.of[one] ?? 0), 0)
  return { unit: kin.unit, amount }
}
