import type { ShopFacts } from '../../core/events/facts.ts'
import type { LivedWorkflow } from '../../core/life/lived.ts'
import { OneLife, ownerOf } from '../../core/life/oneLife.ts'
import { reorderIntervals, type ReorderIntervals } from '../../core/reorder/interval.ts'
import { gapsOf, type Purchase } from '../../core/reorder/purchases.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { DemoEvent } from '../demoEvent.ts'
import { Person } from './person.ts'
import type { LivedPast } from './rows.ts'

/**
 * Lives through some months of the demo shop with its workflows switched on: every event and every wait at its
 * own time, each run taken by the interpreter, and people who read, click, order and write as `behaviour.ts`
 * says. `lives` has the events of each of them; those up to `from` are only known. The same each time.
 */
export function livePast(
  shop: ShopFacts,
  workflows: readonly LivedWorkflow[],
  lives: readonly (readonly DemoEvent[])[],
  { from, until, reorders }: { from: Instant; until: Instant; reorders: ReorderIntervals },
): LivedPast {
  const byPriority = workflows.toSorted(
    (a, b) => b.program.definition.priority - a.program.definition.priority,
  )
  const lived: LivedPast = { events: [], runs: [], entries: [], messages: [], coupons: [] }
  for (const events of lives) {
    const person = new Person(events, until, lived)
    const life = new OneLife<DemoEvent>(shop, byPriority, person, reorders)
    life.live(events, from, until)
    lived.events.push(...life.events)
    lived.runs.push(...life.runs)
    lived.entries.push(...life.entries)
  }
  // Everybody was gone through by themselves; the shop has had it all in order of time.
  lived.events.sort(byTime)
  lived.entries.sort(byTime)
  lived.messages.sort(byTime)
  lived.runs.sort((a, b) => a.state.enteredAt - b.state.enteredAt)
  return lived
}

const byTime = (a: { at: Instant }, b: { at: Instant }): number => a.at - b.at

/** When things are bought again, as the shop knew it when its workflows went live. */
export function reordersBefore(history: readonly DemoEvent[], now: Instant): ReorderIntervals {
  const undone = new Set<string>()
  const purchases: (Purchase & { orderId: string })[] = []
  for (const { at, event } of history) {
    if (at > now || !('order' in event.data)) continue
    const { order } = event.data
    if (event.type === 'order.cancelled' || event.type === 'order.refunded') undone.add(order.id)
    if (event.type !== 'order.placed') continue
    for (const { productId, category } of order.lines) {
      const { customerId, id: orderId } = order
      purchases.push({ customerId, productId, category: category ?? null, at, orderId })
    }
  }
  const { gaps, sums } = gapsOf(
    purchases.filter(({ orderId }) => !undone.has(orderId)),
    now,
  )
  return reorderIntervals(gaps, sums)
}

/** Of each person what the shop tells of them, in its order. */
export function livesIn(history: readonly DemoEvent[]): DemoEvent[][] {
  const lives = new Map<string, DemoEvent[]>()
  for (const event of history) {
    const id = ownerOf(event)
    const own = lives.get(id)
    if (own) own.push(event)
    else lives.set(id, [event])
  }
  return [...lives.values()]
}
