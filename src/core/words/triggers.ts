import { findField } from '../conditions/fields.ts'
import { ORDER_STATUSES, SUBSCRIPTION_STATUSES } from '../events/entities.ts'
import { isStatusChange, subjectKindOf } from '../events/eventTypes.ts'
import type { EventTrigger, Trigger } from '../workflow/trigger.ts'
import { conditionWords, type WordContext } from './conditions.ts'
import { plural } from './quantities.ts'
import { EVENT_WORDS } from './eventWords.ts'

/** What starts a workflow, in words: "order placed, order total is at least €40.00". */
export function triggerWords(trigger: Trigger, context: WordContext): string {
  const what = momentWords(trigger)
  return trigger.filter ? `${what}, ${conditionWords(trigger.filter, context)}` : what
}

function momentWords(trigger: Trigger): string {
  switch (trigger.kind) {
    case 'event':
      return eventWords(trigger)
    case 'hand':
      return `${trigger.subject === 'order' ? 'orders' : 'customers'} put in by hand`
    case 'date': {
      const label = findField(trigger.field)?.label ?? trigger.field
      const { days, direction, at, zone } = trigger
      const day =
        days === 0 ? `on the day of “${label}”` : `${plural(days, 'day')} ${direction} “${label}”`
      const late = direction === 'before' && trigger.ifNearer ? ', or at once if it is nearer' : ''
      return `${day}, ${at}${zone === 'recipient' ? ' local time' : ''}${late}`
    }
  }
}

function eventWords({ event, from, to, per }: EventTrigger): string {
  const { label } = EVENT_WORDS[event]
  const each = per === 'line' ? ', for each line' : ''
  if (!isStatusChange(event)) return `${label}${each}`
  const names: Readonly<Record<string, string>> =
    subjectKindOf(event) === 'order' ? ORDER_STATUSES : SUBSCRIPTION_STATUSES
  const list = (statuses: readonly string[] | undefined): string =>
    statuses && statuses.length > 0 ? statuses.map((one) => names[one] ?? one).join(' or ') : 'any'
  return `${label} from ${list(from)} to ${list(to)}${each}`
}
