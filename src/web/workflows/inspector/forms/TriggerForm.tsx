import type { ReactNode } from 'react'
import { DATE_FIELDS } from '../../../../core/conditions/fields.ts'
import { ORDER_STATUSES, SUBSCRIPTION_STATUSES } from '../../../../core/events/entities.ts'
import { isStatusChange, subjectKindOf } from '../../../../core/events/eventTypes.ts'
import type { DateTrigger, EventTrigger, Trigger } from '../../../../core/workflow/trigger.ts'
import { ChoiceField, NumberField } from '../../../ui/fields/fields.tsx'
import { HeldCount } from '../fields/HeldCount.tsx'
import { OptionalCondition } from '../../../ui/conditions/OptionalCondition.tsx'
import { EVENT_CHOICES } from '../../../ui/conditions/eventChoices.ts'
import type { FormProps } from '../formProps.ts'
import { ReorderNote } from '../fields/ReorderNote.tsx'
import { TimeField } from '../fields/TimeField.tsx'

const KINDS = {
  event: 'something happens',
  date: 'a date is near',
  hand: 'somebody is put in by hand',
} as const

/** What starts a run, and for whom. */
export function TriggerForm({ definition, onChange }: FormProps): ReactNode {
  const { trigger } = definition
  const set = (next: Trigger, touching?: string) =>
    onChange({ ...definition, trigger: next }, touching)
  const setFilter = (filter: Trigger['filter']) => {
    const { filter: _old, ...rest } = trigger
    set(filter ? { ...rest, filter } : rest, 'filter')
  }
  return (
    <>
      <h2 className="mb-3 text-base">Starts when</h2>
      <ChoiceField
        label="What starts it"
        value={trigger.kind}
        choices={KINDS}
        onChange={(kind) => set(triggerOf(kind))}
      />
      {trigger.kind === 'event' && <EventForm trigger={trigger} onChange={set} />}
      {trigger.kind === 'date' && <DateForm trigger={trigger} onChange={set} />}
      {trigger.kind === 'hand' && (
        <ChoiceField
          label="What is chosen"
          value={trigger.subject}
          choices={{ order: 'orders', customer: 'customers' }}
          onChange={(subject) => set({ ...trigger, subject })}
        />
      )}
      <OptionalCondition
        title="Only if"
        none="Every such event starts it."
        value={trigger.filter}
        onChange={setFilter}
      />
      {trigger.filter && <HeldCount trigger={withoutFilter(trigger)} condition={trigger.filter} />}
    </>
  )
}

function withoutFilter({ filter: _filter, ...trigger }: Trigger): Trigger {
  return trigger
}

function triggerOf(kind: Trigger['kind']): Trigger {
  if (kind === 'event') return { kind, event: 'order.placed' }
  if (kind === 'hand') return { kind, subject: 'customer' }
  return {
    kind,
    field: 'subscription.nextPaymentAt',
    direction: 'before',
    days: 7,
    at: '09:00',
    zone: 'recipient',
  }
}

const PER = { order: 'one run for the order', line: 'one run for each line' } as const

function EventForm({
  trigger,
  onChange,
}: {
  trigger: EventTrigger
  onChange: (trigger: Trigger) => void
}): ReactNode {
  const isOrder = subjectKindOf(trigger.event) === 'order'
  return (
    <>
      <ChoiceField
        label="Event"
        value={trigger.event}
        choices={EVENT_CHOICES}
        onChange={(event) => {
          const { from: _from, to: _to, per: _per, ...rest } = trigger
          onChange({ ...rest, event })
        }}
      />
      {isStatusChange(trigger.event) && <StatusFields trigger={trigger} onChange={onChange} />}
      {isOrder && (
        <ChoiceField
          label="How many runs"
          value={trigger.per ?? 'order'}
          choices={PER}
          onChange={(per) => onChange({ ...trigger, per })}
        />
      )}
    </>
  )
}

function StatusFields({
  trigger,
  onChange,
}: {
  trigger: EventTrigger
  onChange: (trigger: Trigger) => void
}): ReactNode {
  const names: Readonly<Record<string, string>> =
    subjectKindOf(trigger.event) === 'order' ? ORDER_STATUSES : SUBSCRIPTION_STATUSES
  const field = (side: 'from' | 'to') => (
    <StatusList
      label={side === 'from' ? 'From' : 'To'}
      names={names}
      value={trigger[side] ?? []}
      onChange={(statuses) => onChange({ ...trigger, [side]: statuses })}
    />
  )
  return (
    <>
      {field('from')}
      {field('to')}
    </>
  )
}

function StatusList({
  label,
  names,
  value,
  onChange,
}: {
  label: string
  names: Readonly<Record<string, string>>
  value: readonly string[]
  onChange: (statuses: string[]) => void
}): ReactNode {
  const toggle = (status: string) =>
    onChange(value.includes(status) ? value.filter((one) => one !== status) : [...value, status])
  return (
    <div className="mb-3" role="group" aria-label={label}>
      <span className="field-label">
        {label} {value.length === 0 && '(any)'}
      </span>
      <span className="flex flex-wrap gap-1">
        {Object.entries(names).map(([status, name]) => (
          <button
            key={status}
            type="button"
            aria-pressed={value.includes(status)}
            className={`btn btn-xs ${value.includes(status) ? 'btn-neutral' : ''}`}
            onClick={() => toggle(status)}
          >
            {name}
          </button>
        ))}
      </span>
    </div>
  )
}

const DATES = Object.fromEntries(DATE_FIELDS.map(({ key, label }) => [key, label]))
const DIRECTIONS = { before: 'before it', after: 'after it' } as const
const IF_NEARER = {
  pass: 'start nothing',
  startAtOnce: 'start at once',
} as const
const ZONES = { recipient: 'recipient’s local time', shop: 'shop’s time' } as const

function DateForm({
  trigger,
  onChange,
}: {
  trigger: DateTrigger
  onChange: (trigger: Trigger, touching?: string) => void
}): ReactNode {
  return (
    <>
      <ChoiceField
        label="Date"
        value={trigger.field}
        choices={DATES}
        onChange={(field) => onChange({ ...trigger, field })}
      />
      {trigger.field === 'line.reorderAt' && <ReorderNote />}
      <div className="flex items-end gap-2">
        <NumberField
          label="Days"
          value={trigger.days}
          min={0}
          max={730}
          onChange={(days) => onChange({ ...trigger, days }, 'days')}
        />
        <ChoiceField
          label="Which side"
          value={trigger.direction}
          choices={DIRECTIONS}
          onChange={(direction) => onChange({ ...withIfNearer(trigger, 'pass'), direction })}
        />
      </div>
      <div className="flex items-end gap-2">
        <TimeField
          label="At"
          value={trigger.at}
          onChange={(at) => onChange({ ...trigger, at }, 'at')}
        />
        <ChoiceField
          label="Whose clock"
          value={trigger.zone}
          choices={ZONES}
          onChange={(zone) => onChange({ ...trigger, zone })}
        />
      </div>
      {trigger.direction === 'before' && (
        <ChoiceField
          label="When the date is set or moved after that moment"
          value={trigger.ifNearer ?? 'pass'}
          choices={IF_NEARER}
          onChange={(choice) => onChange(withIfNearer(trigger, choice))}
        />
      )}
    </>
  )
}

function withIfNearer(
  { ifNearer: _old, ...trigger }: DateTrigger,
  choice: keyof typeof IF_NEARER,
): DateTrigger {
  return choice === 'startAtOnce' ? { ...trigger, ifNearer: choice } : trigger
}
