import type { ReactNode } from 'react'
import { ChoiceField, TextField } from '../../ui/fields.tsx'
import { BodyField } from './BodyField.tsx'
import type { FormProps } from './formProps.ts'
import { HeldAtStep } from './conditions/HeldCount.tsx'
import { OptionalCondition } from './conditions/OptionalCondition.tsx'
import { FORMATS, inFormat } from '../message/formats.ts'
import { OpenMessage } from './OpenMessage.tsx'
import { RemoveStep } from './RemoveStep.tsx'
import { addressesOf, GAPS, PURPOSES } from './messageChoices.ts'
import { stepChanger, type StepOf } from './stepChange.ts'

/** A message: what it says, from whom, and when not. */
export function EmailForm({ step, ...form }: FormProps & { step: StepOf<'email'> }): ReactNode {
  const change = stepChanger<'email'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Email</h2>
      <OpenMessage stepKey={step.key} />
      <TextField
        label="Name, for you and colleagues"
        value={step.name}
        onChange={(name) => change({ name }, 'name')}
      />
      <TextField
        label="Subject"
        value={step.subject}
        onChange={(subject) => change({ subject }, 'subject')}
      />
      {step.format !== 'plain' && (
        <TextField
          label="Preview text"
          value={step.previewText}
          onChange={(previewText) => change({ previewText }, 'preview')}
        />
      )}
      <SenderFields
        sender={step.sender}
        onChange={(sender, touching) => change({ sender }, touching)}
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
      {step.format !== 'designed' && (
        <BodyField
          definition={form.definition}
          value={step.body}
          onChange={(body) => change({ body }, 'body')}
        />
      )}
      <TextField
        label="Copies to, at the same time"
        placeholder="nobody"
        value={(step.copies ?? []).join(', ')}
        onChange={(text) => {
          const copies = addressesOf(text)
          change({ copies: copies.length === 0 ? undefined : copies }, 'copies')
        }}
      />
      <OptionalCondition
        title="Send only if"
        none="Sent to everyone who gets here."
        value={step.onlyIf}
        onChange={(onlyIf) => change({ onlyIf }, 'only if')}
      />
      {step.onlyIf && (
        <HeldAtStep definition={form.definition} step={step.key} condition={step.onlyIf} />
      )}
      <RemoveStep {...form} stepKey={step.key} what="this message" />
    </>
  )
}

interface SenderProps {
  sender: StepOf<'email'>['sender']
  onChange: (sender: SenderProps['sender'], touching: string) => void
}

function SenderFields({ sender, onChange }: SenderProps): ReactNode {
  return (
    <div className="flex gap-2">
      <TextField
        label="From: name"
        value={sender.name}
        onChange={(name) => onChange({ ...sender, name }, 'sender')}
      />
      <TextField
        label="From: address"
        value={sender.address}
        onChange={(address) => onChange({ ...sender, address }, 'address')}
      />
    </div>
  )
}
