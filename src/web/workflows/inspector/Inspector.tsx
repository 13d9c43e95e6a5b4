import { ArrowLeft } from 'lucide-react'
import {
  memo,
  useCallback,
  useDeferredValue,
  useMemo,
  useRef,
  type ComponentType,
  type ReactNode,
} from 'react'
import { allSteps } from '../../../core/workflow/lists.ts'
import { isMessage, type Step, type StepKind } from '../../../core/workflow/steps.ts'
import { useIsDrawn } from '../../ui/hooks/afterNextFrame.ts'
import { useFocusNear } from '../../ui/hooks/useFocusNear.ts'
import { useLatest } from '../../ui/hooks/useLatest.ts'
import { FieldValues } from '../message/text/FieldValues.tsx'
import type { Selection } from '../selection.ts'
import { useShownPart } from '../shownPart.ts'
import { BranchForm } from './forms/BranchForm.tsx'
import { EmailForm } from './forms/EmailForm.tsx'
import { CouponForm, HookForm, ListForm, PropertyForm, TagForm } from './forms/ActionForms.tsx'
import { scopeOfTrigger, ScopeProvider } from '../../ui/conditions/scope.ts'
import { EndForm } from './forms/EndForm.tsx'
import { ExperimentForm, SplitForm } from './forms/BranchingForms.tsx'
import { MomentForm } from './forms/MomentForm.tsx'
import { NoteForm, SmsForm } from './forms/MessageForms.tsx'
import { EntryForm, ExclusionsForm, WorkflowForm } from './forms/RuleForms.tsx'
import type { StepOf } from './stepChange.ts'
import { UntilForm, WaitForForm, WaitForm } from './forms/TimeForms.tsx'
import { TriggerForm } from './forms/TriggerForm.tsx'
import { leaveOnEscape, useAskedFocus, useFormGone } from './focus.ts'
import type { FormProps, InspectorProps } from './formProps.ts'

/**
 * The one place where whatever is selected is looked at and changed. What has just been selected is
 * marked on the timetable first, and what is changed there is shown there first; the form comes a
 * frame later, and nothing can be typed until then. So it does when a workflow is opened.
 */
export function Inspector(props: InspectorProps): ReactNode {
  const { readOnly, onSelect, onChange, isFirst, ...shown } = props
  const isDrawn = useIsDrawn()
  const { now, isLate } = useShown(shown, isFirst)
  const late = useLatest(isLate)
  const isBusy = isLate || !isDrawn
  const inspector = useRef<HTMLElement>(null)
  useAskedFocus(inspector, isBusy ? null : now.selection)
  const onPress = useFocusNear(inspector)
  const keyboard = useFormGone(inspector)
  const change: typeof onChange = useCallback(
    (to, touching) => {
      // Made of what is not there any more.
      if (!late.current) onChange(to, touching)
    },
    [late, onChange],
  )
  const isWhole = now.selection.kind === 'workflow'
  return (
    <aside
      ref={inspector}
      className="panel isolate flex min-h-0 flex-col overflow-hidden print:hidden"
      aria-label="Inspector"
      aria-busy={isBusy}
      data-inspector
      onClickCapture={onPress}
      {...keyboard}
    >
      {!isWhole && (
        <button
          type="button"
          className="btn btn-ghost btn-xs m-1 shrink-0 self-start text-secondary"
          onClick={() => onSelect({ kind: 'workflow' })}
        >
          <ArrowLeft size={13} aria-hidden="true" /> Whole workflow
        </button>
      )}
      <fieldset
        disabled={readOnly}
        // Nothing here changes while it is late: a fieldset with another style is laid out anew.
        className="min-h-0 min-w-0 flex-1 overflow-x-hidden overflow-y-auto"
        onKeyDown={leaveOnEscape}
      >
        <div className={isWhole ? 'p-4' : 'p-4 pt-1'}>
          {isDrawn && (
            <Content {...now} onSelect={onSelect} onChange={change} isReadOnly={readOnly} />
          )}
        </div>
      </fieldset>
    </aside>
  )
}

type Shown = Omit<InspectorProps, 'readOnly' | 'onSelect' | 'onChange' | 'isFirst'>

/** What is shown: what was shown before, until there is time to draw what follows from elsewhere. */
function useShown(
  { definition, selection, whole, versions }: Shown,
  isFirst: boolean,
): { now: Shown; isLate: boolean } {
  const latest = useMemo(
    () => ({ definition, selection, whole, versions }),
    [definition, selection, whole, versions],
  )
  const later = useDeferredValue(latest)
  const now = isFirst && later.selection === selection ? latest : later
  return { now, isLate: now.selection !== selection || now.definition !== definition }
}

type ContentProps = Shown & FormProps & { isReadOnly: boolean }

const Content = memo(function Content(props: ContentProps): ReactNode {
  const { selection, whole, versions, isReadOnly, ...form } = props
  useShownPart(selection.kind === 'step' ? selection.key : null)
  return (
    <>
      <ScopeProvider value={scopeOfTrigger(form.definition.trigger)}>
        {selection.kind === 'versions' ? (
          versions
        ) : (
          <Form selection={selection} form={form} isReadOnly={isReadOnly} />
        )}
      </ScopeProvider>
      {selection.kind === 'workflow' && whole}
    </>
  )
})

interface WithForm {
  selection: Exclude<Selection, { kind: 'versions' }>
  form: FormProps
  isReadOnly: boolean
}

function Form({ selection, form, isReadOnly }: WithForm): ReactNode {
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
      return <BranchForm {...form} branching={selection.branching} branch={selection.branch} />
    case 'moment':
      return <MomentForm {...form} waits={selection.waits} />
    case 'step':
      return <FormOfStep form={form} isReadOnly={isReadOnly} stepKey={selection.key} />
  }
}

type OfStep = Omit<WithForm, 'selection'> & { stepKey: string }

function FormOfStep({ form, isReadOnly, stepKey }: OfStep): ReactNode {
  const step = allSteps(form.definition.steps).find(({ key }) => key === stepKey)
  if (!step) return <WorkflowForm {...form} />
  const StepForm = FORMS[step.kind] as ComponentType<FormProps & { step: Step }>
  if (!isMessage(step)) return <StepForm key={stepKey} {...form} step={step} />
  return (
    <FieldValues definition={form.definition} message={step} isReadOnly={isReadOnly}>
      {/* The next message's texts go into the same editors: to make others takes several frames. */}
      <StepForm key={step.kind} {...form} step={step} />
    </FieldValues>
  )
}

/** The form of each kind of step. */
const FORMS: { [Kind in StepKind]: ComponentType<FormProps & { step: StepOf<Kind> }> } = {
  email: EmailForm,
  sms: SmsForm,
  note: NoteForm,
  wait: WaitForm,
  until: UntilForm,
  waitFor: WaitForForm,
  split: SplitForm,
  experiment: ExperimentForm,
  coupon: CouponForm,
  tag: TagForm,
  list: ListForm,
  property: PropertyForm,
  hook: HookForm,
  end: EndForm,
}
