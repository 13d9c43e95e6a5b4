import { X } from 'lucide-react'
import type { ReactNode } from 'react'
import { allSteps } from '../../../core/workflow/definition.ts'
import type { Selection } from '../selection.ts'
import { BranchForm } from './BranchForm.tsx'
import { EmailForm } from './EmailForm.tsx'
import { EntryForm, ExclusionsForm, TriggerForm, WorkflowForm } from './RuleForms.tsx'
import { leaveOnEscape } from './focus.ts'
import type { FormProps, InspectorProps } from './formProps.ts'
import { EndForm, SplitForm, WaitForm } from './StepForms.tsx'

/** The one place where whatever is selected is looked at and changed. */
export function Inspector({ selection, readOnly, whole, ...form }: InspectorProps): ReactNode {
  return (
    <aside
      className="panel flex w-[352px] shrink-0 flex-col overflow-y-auto"
      aria-label="Inspector"
      data-inspector
    >
      {selection.kind !== 'workflow' && (
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square absolute m-2 self-end"
          aria-label="Close"
          onClick={() => form.onSelect({ kind: 'workflow' })}
        >
          <X size={14} />
        </button>
      )}
      <fieldset disabled={readOnly} className="p-4" onKeyDown={leaveOnEscape}>
        <Form selection={selection} form={form} />
        {selection.kind === 'workflow' && whole}
      </fieldset>
    </aside>
  )
}

function Form({ selection, form }: { selection: Selection; form: FormProps }): ReactNode {
  switch (selection.kind) {
    case 'workflow':
      return <WorkflowForm {...form} />
    case 'trigger':
      return <TriggerForm {...form} />
    case 'entry':
      return <EntryForm {...form} />
    case 'exclusions':
      return <ExclusionsForm {...form} />
    case 'branch':
      return <BranchForm {...form} split={selection.split} branch={selection.branch} />
    case 'step':
      return <StepForm form={form} stepKey={selection.key} />
  }
}

function StepForm({ form, stepKey }: { form: FormProps; stepKey: string }): ReactNode {
  const step = allSteps(form.definition.steps).find(({ key }) => key === stepKey)
  switch (step?.kind) {
    case undefined:
      return <WorkflowForm {...form} />
    case 'email':
      return <EmailForm key={stepKey} {...form} step={step} />
    case 'wait':
      return <WaitForm key={stepKey} {...form} step={step} />
    case 'split':
      return <SplitForm key={stepKey} {...form} step={step} />
    case 'end':
      return <EndForm {...form} step={step} />
  }
}
