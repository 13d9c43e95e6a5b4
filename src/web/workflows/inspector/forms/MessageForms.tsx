import type { ReactNode } from 'react'
import { TextField } from '../../../ui/fields/fields.tsx'
import type { FormProps } from '../formProps.ts'
import { GroupsField } from '../fields/GroupsField.tsx'
import { LanguageField, PurposeFields } from '../fields/EnvelopeFields.tsx'
import { addressesOf } from '../fields/messageChoices.ts'
import { TemplateLine, TemplateLines } from '../../message/text/templateFields.tsx'
import { OptionalCondition } from '../../../ui/conditions/OptionalCondition.tsx'
import { OpenMessage } from './OpenMessage.tsx'
import { StepActions } from '../actions/StepActions.tsx'
import { NameField } from '../fields/NameField.tsx'
import { Part } from '../../Part.tsx'
import { stepChanger, type StepOf } from '../stepChange.ts'
import { TickField } from '../../../ui/fields/TickField.tsx'

interface Props<Kind extends 'sms' | 'note'> extends Omit<FormProps, 'onSelect'> {
  step: StepOf<Kind>
  /** Left out on a screen of its own, where it is not removed. */
  onSelect?: FormProps['onSelect']
}

/** A text message to the customer's phone. */
export function SmsForm({ step, onSelect, ...form }: Props<'sms'>): ReactNode {
  const change = stepChanger<'sms'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Text message</h2>
      {onSelect && <OpenMessage stepKey={step.key} />}
      <NameField step={step} onChange={change} />
      <PurposeFields step={step} onChange={change} />
      <Part kind="text">
        <TemplateLines
          label="Text"
          value={step.body}
          onChange={(body) => change({ body }, 'body')}
        />
      </Part>
      <TickField
        className="mb-3"
        checked={!step.longLinks}
        onChange={(checked) => change({ longLinks: checked ? undefined : true })}
      >
        Short links, so that clicks are known
      </TickField>
      <LanguageField step={step} onChange={change} />
      <OptionalCondition
        key={step.key}
        title="Send only if"
        none="Sent to everyone who gets here."
        value={step.onlyIf}
        onChange={(onlyIf) => change({ onlyIf }, 'only if')}
      />
      {onSelect && (
        <StepActions {...form} onSelect={onSelect} stepKey={step.key} what="this message" />
      )}
    </>
  )
}

/** A mail to colleagues. */
export function NoteForm({ step, onSelect, ...form }: Props<'note'>): ReactNode {
  const change = stepChanger<'note'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Staff note</h2>
      {onSelect && <OpenMessage stepKey={step.key} />}
      <NameField step={step} onChange={change} />
      <Part kind="envelope">
        <GroupsField
          legend="To groups of staff"
          groups={step.groups}
          onChange={(groups) => change({ groups }, 'groups')}
        />
        <TextField
          label="And to addresses of staff"
          value={step.to.join(', ')}
          onChange={(text) => change({ to: addressesOf(text) }, 'to')}
        />
      </Part>
      <Part kind="subject">
        <TemplateLine
          label="Subject"
          value={step.subject}
          onChange={(subject) => change({ subject }, 'subject')}
        />
      </Part>
      <Part kind="text">
        <TemplateLines
          label="Text"
          value={step.body}
          onChange={(body) => change({ body }, 'body')}
        />
      </Part>
      <OptionalCondition
        key={step.key}
        title="Send only if"
        none="Sent for everyone who gets here."
        value={step.onlyIf}
        onChange={(onlyIf) => change({ onlyIf }, 'only if')}
      />
      {onSelect && (
        <StepActions {...form} onSelect={onSelect} stepKey={step.key} what="this note" />
      )}
    </>
  )
}
