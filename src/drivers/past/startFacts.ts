import type {
  CustomerFacts,
  EntityFacts,
  Facts,
  PastEvent,
  ShopFacts,
} from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import { subjectOf, type Trigger } from '../../core/workflow/trigger.ts'

interface Known {
  shop: ShopFacts
  customer: CustomerFacts
  past: readonly PastEvent[]
  now: Instant
}

/** What is known of something that would have started a workflow; nobody has been in it yet. */
export function startFacts(
  trigger: Trigger,
  { subjectId, entity }: { subjectId: string | null; entity: EntityFacts },
  { shop, customer, past, now }: Known,
): Facts {
  const { order, line, checkout, basket, subscription, review } = entity
  // By name: spreading the entity takes half of the time of a count.
  return {
    order,
    line,
    checkout,
    basket,
    subscription,
    review,
    now,
    shop,
    self: { workflowId: '', runId: null },
    subject: { kind: subjectOf(trigger), id: subjectId },
    customer,
    history: past,
    entries: [],
    messages: [],
    coupons: [],
  }
}
