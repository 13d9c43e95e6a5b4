import type { ReactNode } from 'react'
import { ChoiceField, TextField } from '../../../ui/fields/fields.tsx'
import { FORMATS, inFormat } from '../../message/formats.ts'
import { addressesOf, GAPS, LANGUAGES, PURPOSES } from './messageChoices.ts'
import { GroupsField } from './GroupsField.tsx'
import { Part } from '../../Part.tsx'
import { SenderFields } from './SenderFields.tsx'
import type { StepOf } from '../stepChange.ts'
import { TickField } from '../../../ui/fields/TickField.tsx'

type Message = StepOf<'email'> | StepOf<'sms'>
type Parts<One> = { [Key in keyof One]?: One[Key] | undefined }

interface PurposeProps {
  step: Pick<Message, 'purpose' | 'onGap'>
  onChange: (to: Parts<Pick<Message, 'purpose' | 'onGap'>>) => void
}

/** What a message is for; of marketing, what happens when another left shortly before. */
export function PurposeFields({ step, onChange }: PurposeProps): ReactNode {
  return (
    <>
      <ChoiceField
        label="Purpose"
        value={step.purpose}
        choices={PURPOSES}
        onChange={(purpose) => onChange({ purpose })}
      />
      {step.purpose === 'marketing' && (
        <ChoiceField
          label="If another message left shortly before"
          value={step.onGap ?? 'hold'}
          choices={GAPS}
          onChange={(onGap) => onChange({ onGap: onGap === 'hold' ? undefined : onGap })}
        />
      )}
    </>
  )
}

interface LanguageProps {
  step: Pick<Message, 'language'>
  onChange: (to: Parts<Pick<Message, 'language'>>) => void
}

/** In whose language dates and amounts are written. */
export function LanguageField({ step, onChange }: LanguageProps): ReactNode {
  return (
    <ChoiceField
      label="Dates and amounts in"
      value={step.language ?? 'shop'}
      choices={LANGUAGES}
      onChange={(to) => onChange({ language: to === 'shop' ? undefined : to })}
    />
  )
}

interface Props {
  step: StepOf<'email'>
  onChange: (to: Parts<StepOf<'email'>>, touching?: string) => void
}

/** From whom an email comes, for what it is, in what form, and who else gets it. */
export function EnvelopeFields({ step, onChange }: Props): ReactNode {
  return (
    <Part kind="envelope">
      <SenderFields
        sender={step.sender}
        onChange={(sender, touching) => onChange({ sender }, touching)}
      />
      <TextField
        label="Answers go to"
        placeholder="the sender"
        value={step.replyTo ?? ''}
        onChange={(text) => onChange({ replyTo: text === '' ? undefined : text }, 'reply')}
      />
      <TextField
        label="Copies to, at the same time"
        placeholder="nobody"
        value={(step.copies ?? []).join(', ')}
        onChange={(text) => {
          const copies = addressesOf(text)
          onChange({ copies: copies.length === 0 ? undefined : copies }, 'copies')
        }}
      />
      <GroupsField
        legend="Copies to groups of staff"
        groups={step.groups}
        onChange={(groups) => onChange({ groups })}
      />
      {(step.copies || step.groups) && (
        <TickField
          className="mb-3"
          checked={step.copiesShown ?? false}
          onChange={(checked) => onChange({ copiesShown: checked || undefined })}
        >
          Customers see who gets a copy
        </TickField>
      )}
      <PurposeFields step={step} onChange={onChange} />
      <ChoiceField
        label="Form"
        value={step.format}
        choices={FORMATS}
        onChange={(format) => onChange(inFormat(step, format))}
      />
      <LanguageField step={step} onChange={onChange} />
    </Part>
  )
}
