import type { LivedRun, LivedWorkflow } from '../../core/life/lived.ts'
import { ownerOf } from '../../core/life/oneLife.ts'
import type { ReorderIntervals } from '../../core/reorder/interval.ts'
import type { ShopFacts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Database } from '../../backend/platform/db.ts'
import { projectEvents } from '../../backend/shop/index.ts'
import type { DemoEvent } from '../demoEvent.ts'
import { copyRows, type Row } from './copy.ts'
import { livePast } from './livePast.ts'
import type { RowTimes } from './numbers.ts'
import type { LivedMessage, LivedPast } from './rows.ts'
import { couponRow, entryRow, eventRow, messageRow, runRow } from './tableRows.ts'

/** What is numbered in order of time, over all people. */
export const NUMBERED = ['events', 'runs', 'ledger', 'messages'] as const
export type Numbered = (typeof NUMBERED)[number]

/** One of some people, with their place among all. */
export interface PlacedLife {
  place: number
  /** All that the shop tells of them, in order of time. */
  events: DemoEvent[]
}

export interface PartGiven {
  shopId: string
  domain: string
  shop: ShopFacts
  workflows: readonly LivedWorkflow[]
  reorders: ReorderIntervals
  from: Instant
  until: Instant
}

/**
 * The half year of some of the demo's people: lived through in memory, and then written down as if the shop had told
 * and the workers had worked. Parts do not know of each other; only the numbers of their rows are given out
 * over all of them.
 */
export class LivedPart {
  readonly lived: LivedPast
  readonly #given: PartGiven
  readonly #places: ReadonlyMap<string, number>
  /** With those from before the workflows. */
  readonly #events: readonly DemoEvent[]

  constructor(given: PartGiven, lives: readonly PlacedLife[]) {
    this.#given = given
    this.#places = new Map(lives.flatMap(({ place, events: [first] }) => (first ? [[ownerOf(first), place]] : []))) // prettier-ignore
    const { shop, workflows, reorders, from, until } = given
    const known = lives.map(({ events }) => events.filter(({ at }) => at <= until))
    this.lived = livePast(shop, workflows, known, { from, until, reorders })
    const before = known.flat().filter(({ at }) => at <= from)
    this.#events = [...before, ...this.lived.events].toSorted((a, b) => a.at - b.at)
  }

  /** When each of its rows was, for them to be numbered. */
  times(): Record<Numbered, RowTimes> {
    const { runs, entries, messages } = this.lived
    return {
      events: this.#timesOf(this.#events, (one) => one.at, ownerOf),
      runs: this.#timesOf(runs, (one) => one.state.enteredAt, (one) => one.customerId),
      ledger: this.#timesOf(entries, (one) => one.at, (one) => one.customerId),
      messages: this.#timesOf(messages, (one) => one.at, (one) => one.run.customerId),
    } // prettier-ignore
  }

  #timesOf<One>(
    rows: readonly One[],
    timeOf: (one: One) => Instant,
    personOf: (one: One) => string,
  ): RowTimes {
    return {
      at: Float64Array.from(rows, timeOf),
      person: Int32Array.from(rows, (one) => this.#places.get(personOf(one)) ?? -1),
    }
  }

  /** Writes all of it down, each row under its number. */
  async write(db: Database, numbers: Record<Numbered, Int32Array>): Promise<void> {
    const { shopId, domain } = this.#given
    const { runs, entries, messages, coupons } = this.lived
    const ids = new Map(runs.map((run, index) => [run, numbers.runs[index] ?? 0]))
    const idOf = (run: LivedRun): number => {
      const id = ids.get(run)
      if (id === undefined) throw new RangeError('A message or an entry of a run that is not there')
      return id
    }
    const nameOf = (run: LivedRun, step: string): string => `<${shopId}.${idOf(run)}.${step}@${domain}>` // prettier-ignore
    nameMessages(messages, ({ run, step }) => nameOf(run, step))
    const seqs = new Map(this.#events.map((event, index) => [event as object, numbers.events[index] ?? 0])) // prettier-ignore
    const write = <One>(
      table: string,
      all: readonly One[],
      rowOf: (one: One, index: number) => Row,
    ) =>
      // prettier-ignore
      copyRows(db, table, all.length, (index) => ({
        shop_id: shopId,
        ...rowOf(all[index] as One, index),
      }))
    await write('events', this.#events, (one, index) =>
      eventRow(numbers.events[index] ?? 0, one, this.#given.from),
    )
    await write('runs', runs, (one) => runRow(idOf(one), one, one.event && seqs.get(one.event)))
    await write('messages', messages, (one, index) => messageRow(numbers.messages[index] ?? 0, one, { id: idOf(one.run), name: nameOf(one.run, one.step) })) // prettier-ignore
    await write('ledger', entries, (one, index) => entryRow(numbers.ledger[index] ?? 0, one, idOf))
    await write('coupons', coupons, (one) => couponRow(one, idOf(one.run)))
    await projectEvents(db, shopId, [...this.#events])
  }
}

/** What mail systems told of a message names it. */
function nameMessages(
  messages: readonly LivedMessage[],
  nameOf: (message: LivedMessage) => string,
): void {
  for (const message of messages) {
    for (const { event } of message.told) {
      if ('message' in event.data) event.data.message.id = nameOf(message)
    }
  }
}
