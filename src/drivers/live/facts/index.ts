import type { Db } from '../../../backend/platform/db.ts'
import type { Shop } from '../../../backend/shop/index.ts'
import { needsOfAll } from '../../../core/conditions/needs.ts'
import type { CustomerFacts, Facts } from '../../../core/events/facts.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { loadCustomers } from './customers.ts'
import { loadCoupons, loadEntries, loadHistory, loadMessages } from './past.ts'
import type { ArrivedEvent, FactRequest, KeptMessage } from './request.ts'
import { loadSubjects } from './subjects.ts'

export type { FactRequest } from './request.ts'

export type LoadedFacts = Omit<Facts, 'history' | 'messages'> & {
  history: readonly ArrivedEvent[]
  messages: readonly KeptMessage[]
}

/** The facts of a batch. */
export interface FactSource {
  /** The facts of a request of the batch. Throws RangeError for a customer that was not asked for. */
  of: (request: FactRequest) => LoadedFacts
  /** Whether there is such a customer. */
  has: (customerId: string) => boolean
  /** Keeps what a run has changed, so that those after it in the batch see it. */
  keep: (facts: Facts) => void
}

export interface LoadOptions {
  /**
   * Leave out events that no worker has looked at yet. Whether an event starts a run must not hang
   * on what came in with it or behind it, or the first of two orders would count as one of two.
   */
  consideredOnly?: boolean
  /** Load the codes that were issued, which only messages ask for. */
  coupons?: boolean
}

/** Fetches the facts for a whole batch in a few queries, however many requests it has. */
export async function loadFacts(
  db: Db,
  shop: Shop,
  requests: readonly FactRequest[],
  now: Instant,
  { consideredOnly = false, coupons: withCoupons = false }: LoadOptions = {},
): Promise<FactSource> {
  const ids = [...new Set(requests.map((request) => request.customerId))]
  const needs = needsOfAll([...new Set(requests.map((request) => request.needs))])
  const customers = await loadCustomers(db, shop.id, ids)
  const subjectOf = await loadSubjects(db, shop.id, requests)
  const history = await loadHistory(db, shop.id, ids, needs.events, now, consideredOnly)
  const entries = needs.entries ? await loadEntries(db, shop.id, ids) : new Map<string, never>()
  const messages = needs.messages ? await loadMessages(db, shop.id, ids) : new Map<string, never>()
  const runIds = withCoupons ? requests.flatMap(({ runId }) => runId ?? []) : []
  const coupons = await loadCoupons(db, shop.id, runIds)
  return sourceFrom({ shop, now, customers, subjectOf, history, entries, messages, coupons })
}

interface Loaded {
  shop: Shop
  now: Instant
  customers: Map<string, CustomerFacts>
  subjectOf: Awaited<ReturnType<typeof loadSubjects>>
  history: Awaited<ReturnType<typeof loadHistory>>
  entries: Awaited<ReturnType<typeof loadEntries>>
  messages: Map<string, readonly KeptMessage[]>
  coupons: Awaited<ReturnType<typeof loadCoupons>>
}

function sourceFrom(loaded: Loaded): FactSource {
  const { shop, now, customers, subjectOf, history, entries, messages, coupons } = loaded
  return {
    of: (request) => {
      const { customerId, workflowId, runId, subjectKind, subjectId } = request
      const customer = customers.get(customerId)
      if (!customer) throw new RangeError(`There is no customer ${customerId}`)
      return {
        now,
        shop,
        self: { workflowId, runId },
        subject: { kind: subjectKind, id: subjectId },
        customer,
        ...subjectOf(request),
        history: history.get(customerId) ?? [],
        entries: (entries.get(customerId) ?? []).filter((entry) => entry.runId !== runId),
        messages: messages.get(customerId) ?? [],
        coupons: runId === null ? [] : (coupons.get(runId) ?? []),
      }
    },
    has: (customerId) => customers.has(customerId),
    keep: (facts) => {
      customers.set(facts.customer.id, facts.customer)
      messages.set(facts.customer.id, facts.messages)
    },
  }
}
