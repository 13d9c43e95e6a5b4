import { Plus } from 'lucide-react'
import type { ComponentType, ReactNode } from 'react'
import type { Condition, HistoryCondition } from '../../../core/conditions/condition.ts'
import { subjectKindOf, type EventType } from '../../../core/events/eventTypes.ts'
import { isBeginning } from '../../../core/events/oncePer.ts'
import { ChoiceField } from '../fields/fields.tsx'
import { useShop } from '../data/shop.tsx'
import { EVENT_CHOICES } from './eventChoices.ts'
import { fieldsIn, firstCondition, scopeOfEvent, useScope, type ConditionScope } from './scope.ts'
import { WindowField, whole } from './WindowField.tsx'

const COUNTS = { atLeast: 'at least', atMost: 'at most', exactly: 'exactly' } as const

/** The editor of a condition inside another; handed in, since the two hold one another. */
export type InnerEditor = ComponentType<{
  scope: ConditionScope
  value: Condition
  onChange: (condition: Condition) => void
  onRemove?: () => void
}>

interface Props {
  value: HistoryCondition
  onChange: (condition: HistoryCondition) => void
  Inner: InnerEditor
}

/** True for what can happen to the very thing a run is about, once the run has begun. */
const isOfThis = (event: EventType, subject: string): boolean =>
  subject !== 'customer' && subjectKindOf(event) === subject && !isBeginning(event)

/** "Order refunded, for this order, at least 1 time, since entry." */
export function HistoryTest({ value, onChange, Inner }: Props): ReactNode {
  const { event, about, count, window } = value
  const { currency } = useShop()
  const { subject } = useScope()
  const canBeThis = isOfThis(event, subject)
  const inner = scopeOfEvent(event)
  const setEvent = (next: HistoryCondition['event']) => {
    const { where: _where, ...rest } = value
    onChange({ ...rest, event: next, about: isOfThis(next, subject) ? 'subject' : 'customer' })
  }
  const setWhere = (where: Condition | undefined) => {
    const { where: _where, ...rest } = value
    onChange(where ? { ...rest, where } : rest)
  }
  return (
    <div className="flex flex-col gap-2">
      <ChoiceField
        hideLabel
        label="Event"
        value={event}
        choices={EVENT_CHOICES}
        onChange={setEvent}
      />
      {canBeThis && (
        <ChoiceField
          hideLabel
          label="About"
          value={about}
          choices={{ subject: `for this ${subject}`, customer: 'for any of theirs' }}
          onChange={(next) => onChange({ ...value, about: next })}
        />
      )}
      {value.where ? (
        <div>
          <p className="mb-1 text-xs text-secondary">where</p>
          <Inner
            scope={inner}
            value={value.where}
            onChange={setWhere}
            onRemove={() => setWhere(undefined)}
          />
        </div>
      ) : (
        fieldsIn(inner).length > 0 && (
          <button
            type="button"
            className="btn btn-ghost btn-xs self-start"
            onClick={() => setWhere(firstCondition(inner, currency))}
          >
            <Plus size={12} aria-hidden="true" /> where …
          </button>
        )
      )}
      <div className="flex items-center gap-2">
        <ChoiceField
          hideLabel
          label="Count"
          value={count.op}
          choices={COUNTS}
          onChange={(op) => onChange({ ...value, count: { ...count, op } })}
        />
        <input
          type="number"
          min={0}
          max={10_000}
          aria-label="Times"
          className="input input-sm w-20 font-mono"
          value={count.times}
          onChange={(typed) =>
            onChange({ ...value, count: { ...count, times: whole(typed.target.value, 0, 10_000) } })
          }
        />
        <span className="text-xs">times</span>
      </div>
      <WindowField value={window} onChange={(next) => onChange({ ...value, window: next })} />
    </div>
  )
}
