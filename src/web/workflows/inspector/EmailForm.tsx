import { useRef, type ReactNode } from 'react'
import { mergeFieldsFor, type MergeField } from '../../../core/messages/mergeFields.ts'
import type { Definition, EmailStep } from '../../../core/workflow/definition.ts'
import { updateStep } from '../../../core/workflow/edit.ts'
import { AreaField, ChoiceField, TextField } from '../../ui/fields.tsx'
import type { FormProps } from './formProps.ts'
import { OptionalCondition } from './OptionalCondition.tsx'
import { RemoveStep } from './StepForms.tsx'

const PURPOSES = {
  transactional: 'transactional: part of the order',
  marketing: 'marketing: only with consent',
} as const
const FORMATS = {
  plain: 'plain text, as a person writes',
  letter: 'letter: text and simple HTML',
} as const

/** A message: what it says, from whom, and when not. */
export function EmailForm({ step, ...form }: FormProps & { step: EmailStep }): ReactNode {
  const { definition, onChange } = form
  const change = (to: Partial<EmailStep>, touching?: string) =>
    onChange(
      withEmail(definition, step.key, (one) => ({ ...one, ...to })),
      touching && `${touching} ${step.key}`,
    )
  const setOnlyIf = (onlyIf: EmailStep['onlyIf']) =>
    onChange(
      withEmail(definition, step.key, ({ onlyIf: _old, ...rest }) =>
        onlyIf ? { ...rest, onlyIf } : rest,
      ),
      `only if ${step.key}`,
    )
  return (
    <>
      <h2 className="mb-3 text-base">Email</h2>
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
      {step.format === 'letter' && (
        <TextField
          label="Preview text"
          value={step.previewText}
          onChange={(previewText) => change({ previewText }, 'preview')}
        />
      )}
      <div className="flex gap-2">
        <TextField
          label="From: name"
          value={step.sender.name}
          onChange={(name) => change({ sender: { ...step.sender, name } }, 'sender')}
        />
        <TextField
          label="From: address"
          value={step.sender.address}
          onChange={(address) => change({ sender: { ...step.sender, address } }, 'address')}
        />
      </div>
      <ChoiceField
        label="Purpose"
        value={step.purpose}
        choices={PURPOSES}
        onChange={(purpose) => change({ purpose })}
      />
      <ChoiceField
        label="Form"
        value={step.format}
        choices={FORMATS}
        onChange={(format) => change({ format })}
      />
      <BodyField
        trigger={definition.trigger.event}
        value={step.body}
        onChange={(body) => change({ body }, 'body')}
      />
      <OptionalCondition
        title="Send only if"
        none="Sent to everyone who gets here."
        value={step.onlyIf}
        onChange={setOnlyIf}
      />
      <RemoveStep {...form} stepKey={step.key} what="this message" />
    </>
  )
}

function withEmail(
  definition: Definition,
  key: string,
  change: (step: EmailStep) => EmailStep,
): Definition {
  return updateStep(definition, key, (step) => (step.kind === 'email' ? change(step) : step))
}

interface BodyProps {
  trigger: Definition['trigger']['event']
  value: string
  onChange: (body: string) => void
}

/** The text, and the merge fields that can be put into it at the cursor. */
function BodyField({ trigger, value, onChange }: BodyProps): ReactNode {
  const box = useRef<HTMLDivElement>(null)
  const insert = (field: MergeField) => {
    const area = box.current?.querySelector('textarea')
    const from = area?.selectionStart ?? value.length
    const to = area?.selectionEnd ?? value.length
    onChange(value.slice(0, from) + tagOf(field) + value.slice(to))
    area?.focus()
  }
  return (
    <div ref={box}>
      <AreaField label="Text" rows={11} value={value} onChange={onChange} />
      <div className="-mt-2 mb-3 flex flex-wrap gap-1" role="group" aria-label="Merge fields">
        {mergeFieldsFor(trigger).map((field) => (
          <button
            key={field.key}
            type="button"
            className="chip hover:bg-base-200"
            title={tagOf(field)}
            onClick={() => insert(field)}
          >
            {field.label}
          </button>
        ))}
      </div>
    </div>
  )
}

function tagOf({ key, alwaysFilled }: MergeField): string {
  return alwaysFilled ? `{{ ${key} }}` : `{{ ${key} | default: "there" }}`
}
