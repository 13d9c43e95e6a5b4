import type { ReactNode } from 'react'
import type { FormProps } from '../formProps.ts'
import { HeldAtStep } from '../fields/HeldCount.tsx'
import { OptionalCondition } from '../../../ui/conditions/OptionalCondition.tsx'
import { EnvelopeFields } from '../fields/EnvelopeFields.tsx'
import { TemplateLine, TemplateLines } from '../../message/text/templateFields.tsx'
import { OpenMessage } from './OpenMessage.tsx'
import { StepActions } from '../actions/StepActions.tsx'
import { NameField } from '../fields/NameField.tsx'
import { Part } from '../../Part.tsx'
import { stepChanger, type StepOf } from '../stepChange.ts'

/** A message: what it says, from whom, and when not. */
export function EmailForm({ step, ...form }: FormProps & { step: StepOf<'email'> }): ReactNode {
  const change = stepChanger<'email'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Email</h2>
      <OpenMessage stepKey={step.key} />
      <NameField step={step} onChange={change} />
      <Part kind="subject">
        <TemplateLine
          label="Subject"
          value={step.subject}
          onChange={(subject) => change({ subject }, 'subject')}
        />
      </Part>
      {step.format !== 'plain' && (
        <Part kind="previewText">
          <TemplateLine
            label="Preview text"
            value={step.previewText}
            onChange={(previewText) => change({ previewText }, 'preview')}
          />
        </Part>
      )}
      <EnvelopeFields step={step} onChange={change} />
      {step.format !== 'designed' && (
        <Part kind="text">
          <TemplateLines
            label="Text"
            className="min-h-56"
            value={step.body}
            onChange={(body) => change({ body }, 'body')}
          />
        </Part>
      )}
      <OptionalCondition
        key={step.key}
        title="Send only if"
        none="Sent to everyone who gets here."
        value={step.onlyIf}
        onChange={(onlyIf) => change({ onlyIf }, 'only if')}
      />
      {step.onlyIf && (
        <HeldAtStep
          key={`held ${step.key}`}
          definition={form.definition}
          step={step.key}
          condition={step.onlyIf}
        />
      )}
      <StepActions {...form} stepKey={step.key} what="this message" />
    </>
  )
}
