import type { ReactNode } from 'react'
import { trackingOf, type Tracking } from '../../../core/blocks/tracking.ts'
import { TextField } from '../../ui/fields/fields.tsx'
import type { StepOf } from '../inspector/stepChange.ts'
import { TickField } from '../../ui/fields/TickField.tsx'

interface Props {
  step: StepOf<'email'>
  onChange: (tracking: Tracking) => void
}

/** What is known of a mail once it has arrived. */
export function TrackingForm({ step, onChange }: Props): ReactNode {
  const tracking = trackingOf(step)
  const set = (to: Partial<Tracking>) => onChange({ ...tracking, ...to })
  const hasHtml = step.format !== 'plain'
  return (
    <div className="mb-3">
      <span className="field-label">Followed</span>
      {hasHtml ? (
        <>
          <Switch
            label="Clicks on its links"
            on={tracking.links}
            onChange={(links) => set({ links })}
          />
          <Switch
            label="That it is opened"
            on={tracking.opens}
            onChange={(opens) => set({ opens })}
          />
          <TextField
            label="Added to every link, for statistics of the shop’s own"
            placeholder="utm_source=email&utm_campaign=first-order"
            value={tracking.parameters}
            onChange={(parameters) => set({ parameters })}
          />
        </>
      ) : (
        <p className="text-secondary">Nothing: plain text has no links of ours and no pictures.</p>
      )}
    </div>
  )
}

interface SwitchProps {
  label: string
  on: boolean
  onChange: (on: boolean) => void
}

function Switch({ label, on, onChange }: SwitchProps): ReactNode {
  return (
    <TickField className="mb-1" checked={on} onChange={(checked) => onChange(checked)}>
      {label}
    </TickField>
  )
}
