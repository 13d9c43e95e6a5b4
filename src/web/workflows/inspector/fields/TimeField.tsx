import type { ReactNode } from 'react'
import { ClockInput } from '../../../ui/fields/ClockInput.tsx'
import { Field } from '../../../ui/fields/fields.tsx'

interface Props {
  label: string
  /** Hours and minutes: `09:00`. */
  value: string
  onChange: (time: string) => void
}

/** A time of day, with its label. */
export function TimeField({ label, value, onChange }: Props): ReactNode {
  return (
    <Field label={label}>{(id) => <ClockInput id={id} value={value} onChange={onChange} />}</Field>
  )
}
