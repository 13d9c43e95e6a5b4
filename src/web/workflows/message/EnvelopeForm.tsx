import type { ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'
import { ChoiceField, TextField } from '../../ui/fields.tsx'
import { OptionalCondition } from '../inspector/conditions/OptionalCondition.tsx'
import { addressesOf, GAPS, PURPOSES } from '../inspector/messageChoices.ts'
import { stepChanger, type StepOf } from '../inspector/stepChange.ts'
import { FORMATS, inFormat } from './formats.ts'
import { TrackingForm } from './TrackingForm.tsx'
import { LineField } from './text/LineField.tsx'

interface Props {
  definition: Definition
  step: StepOf<'email'>
  onChange: (to: Definition, touching?: string) => void
}

/** What is seen before a mail is opened. */
export function SubjectForm({ step, ...form }: Props): ReactNode {
  const change = stepChanger<'email'>(form, step)
  return (
    <>
      <LineField
        label="Subject"
        value={step.subject}
        onChange={(subject) => change({ subject }, 'subject')}
      />
      {step.format !== 'plain' && (
        <LineField
          label="Preview text"
          value={step.previewText}
          onChange={(previewText) => change({ previewText }, 'preview')}
        />
      )}
    </>
  )
}

/** From whom, for what, to whom else, and when not. */
export function EnvelopeForm({ step, ...form }: Props): ReactNode {
  const change = stepChanger<'email'>(form, step)
  const { sender } = step
  return (
    <details className="mb-3 border-y border-base-300 py-2">
      <summary className="cursor-pointer">
        <span className="font-medium">Sender, purpose, recipients</span>{' '}
        <span className="text-xs text-secondary">
          {sender.name || 'nobody'}, {step.purpose}
          {step.onlyIf && ', for some'}
        </span>
      </summary>
      <div className="pt-3">
        <TextField
          label="Name, for you and colleagues"
          value={step.name}
          onChange={(name) => change({ name }, 'name')}
        />
        <div className="flex gap-2">
          <TextField
            label="From: name"
            value={sender.name}
            onChange={(name) => change({ sender: { ...sender, name } }, 'sender')}
          />
          <TextField
            label="From: address"
            value={sender.address}
            onChange={(address) => change({ sender: { ...sender, address } }, 'address')}
          />
        </div>
        <TextField
          label="Answers go to"
          placeholder="the sender"
          value={step.replyTo ?? ''}
          onChange={(text) => change({ replyTo: text === '' ? undefined : text }, 'reply')}
        />
        <TextField
          label="Copies to, at the same time"
          placeholder="nobody"
          value={(step.copies ?? []).join(', ')}
          onChange={(text) => {
            const copies = addressesOf(text)
            change({ copies: copies.length === 0 ? undefined : copies }, 'copies')
          }}
        />
        <ChoiceField
          label="Purpose"
          value={step.purpose}
          choices={PURPOSES}
          onChange={(purpose) => change({ purpose })}
        />
        {step.purpose === 'marketing' && (
          <ChoiceField
            label="If another message left shortly before"
            value={step.onGap ?? 'hold'}
            choices={GAPS}
            onChange={(onGap) => change({ onGap: onGap === 'hold' ? undefined : onGap })}
          />
        )}
        <ChoiceField
          label="Form"
          value={step.format}
          choices={FORMATS}
          onChange={(format) => change(inFormat(step, format))}
        />
        <TrackingForm step={step} onChange={(tracking) => change({ tracking }, 'tracking')} />
        <OptionalCondition
          title="Send only if"
          none="Sent to everyone who gets here."
          value={step.onlyIf}
          onChange={(onlyIf) => change({ onlyIf }, 'only if')}
        />
      </div>
    </details>
  )
}
