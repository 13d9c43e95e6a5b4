import { CHANNELS } from '../channels/catalogue.ts'
import type { ShopFacts } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { GateFacts } from '../workflow/decision.ts'
import type { Definition } from '../workflow/definition.ts'
import type { Hindrance } from '../workflow/standing.ts'
import { allSteps } from '../workflow/lists.ts'
import { isMessage, type CustomerMessageStep } from '../workflow/steps.ts'
import { conditionWords, type WordContext } from './conditions.ts'
import { EVENT_WORDS } from './eventWords.ts'
import { exclusionRule } from './exclusionRule.ts'
import { observationWords } from './observations.ts'
import { dateWords, durationWords, plural } from './quantities.ts'

/** What would stop or move what is to come, and how that stands: `now` is what is the case. */
export interface HindranceWords {
  would: string
  now: string
}

type Rules = Pick<ShopFacts, 'messageGap' | 'quietHours' | 'caps'>

/** Each thing that would stop what is to come or move it, with its present value. */
export function hindranceWords(
  hindrance: Hindrance,
  definition: Definition,
  context: WordContext,
  rules: Rules,
): HindranceWords[] {
  switch (hindrance.kind) {
    case 'exclusion': {
      const { effect = 'leave' } = definition.exclusions.find(({ key }) => key === hindrance.exclusion) ?? {} // prettier-ignore
      const rule = exclusionRule(hindrance.exclusion, definition, context)
      const would = effect === 'leave' ? `They leave if: ${rule}` : `It is passed over if: ${rule}`
      return [{ would, now: observedWords(hindrance, context) }]
    }
    case 'onlyIf': {
      const step = allSteps(definition.steps).find(({ key }) => key === hindrance.step)
      const rule = step && isMessage(step) && step.onlyIf ? conditionWords(step.onlyIf, context) : ''
      return [{ would: `It is sent only if: ${rule}`, now: observedWords(hindrance, context) }]
    }
    case 'gates':
      return gateWords(hindrance.message as CustomerMessageStep, hindrance.gates, context, rules)
    case 'event': {
      const { label } = EVENT_WORDS[hindrance.event]
      return [{ would: `It goes on at once when “${label}” comes`, now: `waits for that until ${dateWords(hindrance.until, context.zone)}` }] // prettier-ignore
    }
    case 'date':
      return [{ would: 'It moves if the date moves', now: `now ${dateWords(hindrance.until, context.zone)}` }] // prettier-ignore
    default:
      return assertNever(hindrance, 'hindrance')
  }
} // prettier-ignore

function observedWords(
  { observed }: { observed: Parameters<typeof observationWords>[0][] },
  context: WordContext,
): string {
  return observed.map((one) => observationWords(one, context)).join(', ') || 'nothing known'
}

const articleOf = (noun: string): string => (/^[aeiou]/.test(noun) ? 'an' : 'a')

function gateWords(
  step: CustomerMessageStep,
  gates: GateFacts,
  context: WordContext,
  { messageGap, quietHours, caps }: Rules,
): HindranceWords[] {
  const { address } = CHANNELS[step.kind]
  const reach: HindranceWords[] = [
    { would: `It is not sent without ${articleOf(address)} ${address}`, now: gates.hasAddress ? 'known' : 'not known' }, // prettier-ignore
  ]
  if (step.purpose !== 'marketing') {
    return [...reach, { would: 'It is not sent to an address that came back', now: gates.suppressed ?? 'it did not' }] // prettier-ignore
  }
  const last = gates.lastMarketingAt
  return [
    ...reach,
    { would: 'It is not sent without consent to marketing, nor after a bounce or a complaint', now: gates.consent === true ? `agreed${gates.suppressed ? `, but ${gates.suppressed}` : ''}` : 'not agreed' }, // prettier-ignore
    ...(messageGap === null
      ? []
      : [{ would: `It waits if other marketing leaves within ${durationWords(messageGap)} before it`, now: last === null ? 'none so far' : `the last on ${dateWords(last, context.zone)}` }]), // prettier-ignore
    ...(gates.quietUntil === undefined ? [] : [{ would: 'It waits while somebody has asked for quiet', now: `until ${dateWords(gates.quietUntil, context.zone)}` }]), // prettier-ignore
    ...(caps ?? []).filter(({ channel }) => channel === 'all' || channel === step.kind).map((cap) => ({ would: `It waits if they have had ${plural(cap.most, 'marketing message')} in ${plural(cap.days, 'day')} before it`, now: gates.capped ? 'they have' : 'they have not' })), // prettier-ignore
    ...(quietHours === null
      ? []
      : [{ would: `It waits for the end of quiet hours, ${quietHours.from} to ${quietHours.to} where they live`, now: gates.zone }]), // prettier-ignore
  ]
}
