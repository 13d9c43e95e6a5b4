import type { ReactNode } from 'react'
import type { HistoryCondition, HistoryWindow } from '../../../core/conditions/condition.ts'
import { isOrderEvent } from '../../../core/events/eventTypes.ts'
import { ChoiceField } from '../../ui/fields.tsx'
import { EVENT_CHOICES } from './eventChoices.ts'

const ABOUT = { subject: 'for this order', customer: 'for any of their orders' } as const
const COUNTS = { atLeast: 'at least', atMost: 'at most', exactly: 'exactly' } as const
const WINDOWS = { ever: 'ever', sinceEntry: 'since entry', lastDays: 'in the last … days' } as const

interface Props {
  value: HistoryCondition
  onChange: (condition: HistoryCondition) => void
}

/** "Order refunded, for this order, at least 1 time, since entry." */
export function HistoryTest({ value, onChange }: Props): ReactNode {
  const { event, about, count, window } = value
  const setEvent = (next: HistoryCondition['event']) =>
    onChange({ ...value, event: next, about: isOrderEvent(next) ? about : 'customer' })
  return (
    <div className="flex flex-col gap-2">
      <ChoiceField
        hideLabel
        label="Event"
        value={event}
        choices={EVENT_CHOICES}
        onChange={setEvent}
      />
      {isOrderEvent(event) && (
        <ChoiceField
          hideLabel
          label="About"
          value={about}
          choices={ABOUT}
          onChange={(next) => onChange({ ...value, about: next })}
        />
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
      <div className="flex items-center gap-2">
        <ChoiceField
          hideLabel
          label="When"
          value={window.kind}
          choices={WINDOWS}
          onChange={(kind) => onChange({ ...value, window: windowOf(kind) })}
        />
        {window.kind === 'lastDays' && (
          <input
            type="number"
            min={1}
            max={3650}
            aria-label="Days"
            className="input input-sm w-20 font-mono"
            value={window.days}
            onChange={(typed) =>
              onChange({
                ...value,
                window: { kind: 'lastDays', days: whole(typed.target.value, 1, 3650) },
              })
            }
          />
        )}
      </div>
    </div>
  )
}

const windowOf = (kind: HistoryWindow['kind']): HistoryWindow =>
  kind === 'lastDays' ? { kind, days: 30 } : { kind }

/** What was typed as a whole number within limits. */
function whole(text: string, min: number, max: number): number {
  const typed = Math.round(Number(text))
  return Number.isFinite(typed) ? Math.min(max, Math.max(min, typed)) : min
}
