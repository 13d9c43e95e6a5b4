import type { ReactNode } from 'react'
import { TextField } from '../../../ui/fields/fields.tsx'
import { Part } from '../../Part.tsx'

interface Props {
  step: { name: string }
  onChange: (to: { name: string }, touching: string) => void
}

/** What a message is called, which its recipients never see. */
export function NameField({ step, onChange }: Props): ReactNode {
  return (
    <Part kind="name">
      <TextField
        label="Name, for you and colleagues"
        value={step.name}
        onChange={(name) => onChange({ name }, 'name')}
      />
    </Part>
  )
}
