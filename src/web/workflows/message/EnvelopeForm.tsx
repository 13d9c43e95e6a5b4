import type { ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'
import { subjectOf } from '../../../core/workflow/trigger.ts'
import { mayBuild } from '../../../contract/roles.ts'
import { useSession } from '../../ui/data/shop.tsx'
import { OptionalCondition } from '../../ui/conditions/OptionalCondition.tsx'
import { EnvelopeFields } from '../inspector/fields/EnvelopeFields.tsx'
import { NameField } from '../inspector/fields/NameField.tsx'
import { Part } from '../Part.tsx'
import { stepChanger, type StepOf } from '../inspector/stepChange.ts'
import { DocumentsField } from './DocumentsField.tsx'
import { TrackingForm } from './TrackingForm.tsx'
import { LineField } from './text/LineField.tsx'
import { TickField } from '../../ui/fields/TickField.tsx'

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
      <Part kind="subject">
        <LineField
          label="Subject"
          value={step.subject}
          onChange={(subject) => change({ subject }, 'subject')}
        />
      </Part>
      {step.format !== 'plain' && (
        <Part kind="previewText">
          <LineField
            label="Preview text"
            value={step.previewText}
            onChange={(previewText) => change({ previewText }, 'preview')}
          />
        </Part>
      )}
    </>
  )
}

/** From whom, for what, to whom else, and when not. */
export function EnvelopeForm({ step, ...form }: Props): ReactNode {
  const change = stepChanger<'email'>(form, step)
  const { sender } = step
  const { role } = useSession().user
  return (
    <details className="mb-3 border-y border-base-300 py-2">
      <summary className="cursor-pointer">
        <span className="font-medium">Sender, purpose, recipients</span>{' '}
        <span className="text-xs text-secondary">
          {sender.name || 'nobody'}, {step.purpose}
          {step.onlyIf && ', for some'}
        </span>
      </summary>
      <fieldset className="pt-3" disabled={!mayBuild(role)}>
        <NameField step={step} onChange={change} />
        <EnvelopeFields step={step} onChange={change} />
        {subjectOf(form.definition.trigger) === 'order' && (
          <TickField
            className="mb-3"
            checked={step.invoice ?? false}
            onChange={(checked) => change({ invoice: checked || undefined })}
          >
            With the invoice as a PDF
          </TickField>
        )}
        <DocumentsField
          documents={step.documents}
          onChange={(documents) => change({ documents }, 'documents')}
        />
        <TrackingForm step={step} onChange={(tracking) => change({ tracking }, 'tracking')} />
        <OptionalCondition
          title="Send only if"
          none="Sent to everyone who gets here."
          value={step.onlyIf}
          onChange={(onlyIf) => change({ onlyIf }, 'only if')}
        />
      </fieldset>
    </details>
  )
}
