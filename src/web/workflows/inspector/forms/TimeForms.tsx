import type { ReactNode } from 'react'
import { DATE_FIELDS } from '../../../../core/conditions/fields.ts'
import { subjectKindOf } from '../../../../core/events/eventTypes.ts'
import { canFill, subjectOf } from '../../../../core/workflow/trigger.ts'
import { dayLater, durationWords } from '../../../../core/words/quantities.ts'
import { ChoiceField, Field } from '../../../ui/fields/fields.tsx'
import { useToday } from '../../../ui/data/useToday.ts'
import { EVENT_CHOICES } from '../../../ui/conditions/eventChoices.ts'
import { DurationField } from '../fields/DurationField.tsx'
import type { FormProps } from '../formProps.ts'
import { OptionalCondition } from '../../../ui/conditions/OptionalCondition.tsx'
import { scopeOfEvent, ScopeProvider } from '../../../ui/conditions/scope.ts'
import { DateInput } from '../../../ui/conditions/WindowField.tsx'
import { StepActions } from '../actions/StepActions.tsx'
import { stepChanger, type StepOf } from '../stepChange.ts'
import { ReorderNote } from '../fields/ReorderNote.tsx'
import { TimeField } from '../fields/TimeField.tsx'
import { WeekdaysField } from '../../../ui/fields/NamedNumbers.tsx'
import { TickField } from '../../../ui/fields/TickField.tsx'

export function WaitForm({ step, ...form }: FormProps & { step: StepOf<'wait'> }): ReactNode {
  const change = stepChanger<'wait'>(form, step)
  return (
    <>
      <h2 className="mb-3 text-base">Wait</h2>
      <DurationField
        label="How long"
        value={step.for}
        onChange={(duration) => change({ for: duration }, 'wait')}
      />
      <TickField
        className="mb-2"
        checked={step.at !== undefined}
        onChange={(checked) =>
          change(
            checked
              ? { at: '11:00', onDay: true }
              : { at: undefined, weekdays: undefined, onDay: undefined },
          )
        }
      >
        then go on at a local time
      </TickField>
      {step.at !== undefined && <WaitTime step={step} change={change} />}
      <p className="text-xs text-secondary">
        Minutes and hours are elapsed time. Days, weeks and months keep the time of day where the
        recipient lives, also when clocks change.
      </p>
      <StepActions {...form} stepKey={step.key} what="this wait" />
    </>
  )
}

function WaitTime({
  step,
  change,
}: {
  step: StepOf<'wait'>
  change: ReturnType<typeof stepChanger<'wait'>>
}): ReactNode {
  return (
    <>
      <TimeField
        label="Local time of the recipient"
        value={step.at ?? '11:00'}
        onChange={(at) => change({ at }, 'at')}
      />
      <ChoiceField
        label="Which day"
        value={step.onDay ? 'onDay' : 'after'}
        choices={{
          onDay: dayLater(step.for),
          after: `once ${durationWords(step.for)} have passed, the first such time`,
        }}
        onChange={(mode) => change({ onDay: mode === 'onDay' ? true : undefined })}
      />
      <Field label="Weekdays">
        {() => (
          <WeekdaysField
            value={step.weekdays ?? [1, 2, 3, 4, 5, 6, 7]}
            onChange={(weekdays) =>
              change({ weekdays: weekdays.length === 7 ? undefined : weekdays })
            }
          />
        )}
      </Field>
    </>
  )
}

const IF_PAST = {
  goOn: 'go on at once',
  skipNext: 'pass over the next message',
  leave: 'leave the workflow',
} as const
const DATES = { field: 'a date of the order or person', fixed: 'a fixed date' } as const
const DIRECTIONS = { before: 'before it', after: 'after it' } as const

export function UntilForm({ step, ...form }: FormProps & { step: StepOf<'until'> }): ReactNode {
  const change = stepChanger<'until'>(form, step)
  const { until } = step
  const today = useToday()
  const setKind = (kind: 'field' | 'fixed') =>
    change({
      until:
        kind === 'fixed'
          ? { kind, date: today(), at: '09:00' }
          : {
              kind,
              field: datesFor(form)[0]?.[0] ?? 'customer.lastOrderAt',
              offset: { direction: 'before', duration: 'P2D' },
              at: '09:00',
            },
    })
  return (
    <>
      <h2 className="mb-3 text-base">Wait until a date</h2>
      <ChoiceField label="Which date" value={until.kind} choices={DATES} onChange={setKind} />
      {until.kind === 'fixed' ? (
        <div className="mb-3 flex items-center gap-2">
          <DateInput
            label="Date"
            value={until.date}
            onChange={(date) => change({ until: { ...until, date } }, 'date')}
          />
          <TimeField
            label="Time, shop’s clock"
            value={until.at}
            onChange={(at) => change({ until: { ...until, at } }, 'at')}
          />
        </div>
      ) : (
        <UntilField
          form={form}
          until={until}
          onChange={(next) => change({ until: next }, 'until')}
        />
      )}
      <ChoiceField
        label="If that is past or not known"
        value={step.ifPast}
        choices={IF_PAST}
        onChange={(ifPast) => change({ ifPast })}
      />
      <StepActions {...form} stepKey={step.key} what="this wait" />
    </>
  )
}

type FieldDate = Extract<StepOf<'until'>['until'], { kind: 'field' }>

function datesFor({ definition }: Pick<FormProps, 'definition'>): [string, string][] {
  return DATE_FIELDS.filter(({ about }) => canFill(definition.trigger, about)).map(
    ({ key, label }) => [key, label],
  )
}

function UntilField({
  form,
  until,
  onChange,
}: {
  form: FormProps
  until: FieldDate
  onChange: (until: FieldDate) => void
}): ReactNode {
  const choices = Object.fromEntries([[until.field, until.field], ...datesFor(form)])
  return (
    <>
      <ChoiceField
        hideLabel
        label="Date"
        value={until.field}
        choices={choices}
        onChange={(field) => onChange({ ...until, field })}
      />
      {until.field === 'line.reorderAt' && <ReorderNote />}
      <div className="mt-3">
        <DurationField
          label="How far"
          value={until.offset.duration}
          onChange={(duration) => onChange({ ...until, offset: { ...until.offset, duration } })}
        />
        <ChoiceField
          label="Which side"
          value={until.offset.direction}
          choices={DIRECTIONS}
          onChange={(direction) => onChange({ ...until, offset: { ...until.offset, direction } })}
        />
      </div>
      <TimeField
        label="At the recipient’s local time"
        value={until.at ?? '09:00'}
        onChange={(at) => onChange({ ...until, at })}
      />
    </>
  )
}

export function WaitForForm({ step, ...form }: FormProps & { step: StepOf<'waitFor'> }): ReactNode {
  const change = stepChanger<'waitFor'>(form, step)
  const subject = subjectOf(form.definition.trigger)
  const canBeThis = subject !== 'customer' && subjectKindOf(step.event) === subject
  return (
    <>
      <h2 className="mb-3 text-base">Wait for an event</h2>
      <ChoiceField
        label="Event"
        value={step.event}
        choices={EVENT_CHOICES}
        onChange={(event) =>
          change({
            event,
            where: undefined,
            about: subjectKindOf(event) === subject ? step.about : 'customer',
          })
        }
      />
      {canBeThis && (
        <ChoiceField
          label="About"
          value={step.about}
          choices={{ subject: `this ${subject}`, customer: 'any of theirs' }}
          onChange={(about) => change({ about })}
        />
      )}
      <ScopeProvider value={scopeOfEvent(step.event)}>
        <OptionalCondition
          title="Only if"
          none="Any such event counts, also one since entry."
          value={step.where}
          onChange={(where) => change({ where }, 'where')}
        />
      </ScopeProvider>
      <div className="mt-3">
        <DurationField
          label="At most"
          value={step.limit}
          onChange={(limit) => change({ limit }, 'limit')}
        />
      </div>
      <StepActions {...form} stepKey={step.key} what="this wait and both its ways" />
    </>
  )
}
