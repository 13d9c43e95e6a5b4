import { findField, type Field, type FieldValue } from '../conditions/fields.ts'
import type { Observation } from '../conditions/observation.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { Instant } from '../shared/time.ts'
import { operandWords, type WordContext } from './conditions.ts'
import { dateWords, plural } from './quantities.ts'
import { EVENT_WORDS } from './eventWords.ts'

/** The facts behind a decision, in words: "order refunded on 16 April, 09:12". */
export function observationWords(observation: Observation, context: WordContext): string {
  switch (observation.kind) {
    case 'field': {
      const field = findField(observation.field)
      return `${field?.label ?? observation.field}: ${valueWords(field, observation.value, context)}`
    }
    case 'history': {
      const { label } = EVENT_WORDS[observation.event]
      return counted(label, `no ${label}`, observation, context)
    }
    case 'lines':
      return `${observation.likeAny} of ${plural(observation.lines, 'line')} like it`
    case 'workflows':
      return counted('been in it', 'never been in it', observation, context)
    case 'messages':
      return counted(observation.did, `not ${observation.did}`, observation, context)
    default:
      return assertNever(observation, 'observation')
  }
}

function counted(
  label: string,
  none: string,
  { count, lastAt }: { count: number; lastAt: Instant | null },
  context: WordContext,
): string {
  if (count === 0 || lastAt === null) return none
  const when = dateWords(lastAt, context.zone)
  return count === 1 ? `${label} on ${when}` : `${label} ${plural(count, 'time')}, last on ${when}`
}

function valueWords(field: Field | undefined, value: FieldValue, context: WordContext): string {
  if (value === null) return 'unknown'
  if (!field) return JSON.stringify(value)
  if (field.type === 'date' && typeof value === 'number') return dateWords(value, context.zone)
  return operandWords(field, value, context) || 'none'
}
