import type { ReactNode } from 'react'
import { Field } from '../../ui/fields.tsx'

interface Props {
  label: string
  /** Hours and minutes: `09:00`. */
  value: string
  onChange: (time: string) => void
}

/** A time of day; what is no time is not passed on. */
export function TimeField({ label, value, onChange }: Props): ReactNode {
  return (
    <Field label={label}>
      {(id) => (
        <input
          id={id}
          type="time"
          className="input input-sm w-28 font-mono"
          value={value}
          onChange={(event) => event.target.value !== '' && onChange(event.target.value)}
        />
      )}
    </Field>
  )
}
