import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { events as eventsTable, orders as ordersTable } from '../../backend/shop/tables.ts'
import { messages as messagesTable } from '../../backend/messages/tables.ts'
import { ledger as ledgerTable, runs as runsTable } from '../../backend/runs/tables.ts'
import { openDatabase, type Database } from '../../backend/platform/db.ts'
import { readClock } from '../../backend/shop/index.ts'
import {
  earnedSince,
  holdoutReports,
  listWorkflows,
  messageDetail,
  numbersOf,
  numbersOfAll,
  peopleBehind,
  resultsWithNumbers,
  workflowExperiments,
} from '../../backend/workflows/index.ts'
import { customerIdOf, readCloudEvent, subjectIdOf } from '../../core/events/cloudEvent.ts'
import { formatInstant } from '../../core/shared/time.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { freeDatabase, makeDatabase } from '../../testing/database.ts'
import { differenceInterval } from '../../core/statistics/rates.ts'
import { makeHistory } from '../history.ts'
import { DEMO_SHOP, LIVED, liveHalfYear, seedPast } from '../seed.ts'
import { ownerOf } from '../../core/life/oneLife.ts'

/*
 * Every figure that is shown, against a count from scratch: plain loops over ledger, runs, messages, orders and events,
 * with the definitions of docs/measures.md, and nothing of the queries.
 */

/** Fewer people, for the tests' sake. */
const isWanted = (id: string): boolean => Number(id.slice(2)) % 9 === 0

let url: string
let db: Database
beforeAll(async () => {
  url = await makeDatabase()
  db = openDatabase(url)
  await seedPast(db, () => undefined, { isWanted })
  await load()
})
afterAll(async () => {
  await db.$client.end()
  freeDatabase(url)
})

test('what was lived through is what would have been let in, each event as it was told', async () => {
  const rows = await db.select().from(eventsTable).where(eq(eventsTable.shopId, DEMO_SHOP))
  expect(rows.length).toBeGreaterThan(8000)
  for (const { eventId: id, source, type, time, data, customerId, subjectId } of rows) {
    const read = readCloudEvent({ specversion: '1.0', id, source, type, time: formatInstant(time), data })
    expect(read).toMatchObject({ ok: true, ignored: [], event: { data } })
    expect([customerIdOf(data), subjectIdOf(data)]).toEqual([customerId, subjectId])
  }
  const times = rows.toSorted((a, b) => a.seq - b.seq).map(({ time }) => time)
  expect(times).toEqual(times.toSorted((a, b) => a - b))
}) // prettier-ignore

type Run = typeof runsTable.$inferSelect
type Message = typeof messagesTable.$inferSelect
type Order = typeof ordersTable.$inferSelect
let now: number
let names: Map<string, string>
let runs: Run[]
let messages: Message[]
let orders: Order[]
let ledger: { at: number; workflowId: string; runId: number | null; customerId: string; entry: LedgerEntry }[] // prettier-ignore
/** What mail systems reported of a message, by its id. */
let reports: Map<string, { type: string; at: number; url: string | null }[]>
let told: { type: string; at: number; customerId: string | null }[]

async function load(): Promise<void> {
  now = (await readClock(db, DEMO_SHOP)).now
  names = new Map((await listWorkflows(db, DEMO_SHOP)).map(({ workflow: { id, draft } }) => [id, draft.name])) // prettier-ignore
  runs = await db.select().from(runsTable).where(eq(runsTable.shopId, DEMO_SHOP))
  messages = await db.select().from(messagesTable).where(eq(messagesTable.shopId, DEMO_SHOP))
  orders = (await db.select().from(ordersTable).where(eq(ordersTable.shopId, DEMO_SHOP))).filter(
    ({ status, currency }) => currency === 'EUR' && status !== 'cancelled' && status !== 'refunded',
  )
  const rows = await db.select().from(ledgerTable).where(eq(ledgerTable.shopId, DEMO_SHOP)).orderBy(sql`id`) // prettier-ignore
  // What was done to people outside of any workflow counts for none.
  ledger = rows.flatMap(({ entry, workflowId, ...row }) => workflowId === null ? [] : [{ ...row, workflowId, entry: entry as LedgerEntry }]) // prettier-ignore
  reports = new Map()
  const all = await db.select().from(eventsTable).where(eq(eventsTable.shopId, DEMO_SHOP))
  told = all.map(({ type, time, customerId }) => ({ type, at: time, customerId }))
  for (const { type, time, data } of all) {
    const message = (data as { message?: { id?: string; url?: string } }).message
    if (!message?.id) continue
    const own = reports.get(message.id) ?? []
    own.push({ type, at: time, url: message.url ?? null })
    reports.set(message.id, own)
  }
  findTouches()
  sortByRun()
}

const isCustomers = ({ channel }: Message): boolean => channel === 'email' || channel === 'sms'
const sentOnes = (): Message[] =>
  messages.filter((one) => one.status === 'sent' && isCustomers(one))

/** The message each order counts for: the last one before it, of the seven days before. */
let touches: Map<string, Message | undefined>
function findTouches(): void {
  touches = new Map(
    orders.map((order) => {
      const placedAt = order.placedAt ?? 0
      const before = sentOnes().filter((one) => one.customerId === order.customerId && one.decidedAt < placedAt && one.decidedAt >= placedAt - 7 * DAY_MS) // prettier-ignore
      return [order.id, before.toSorted((x, y) => y.decidedAt - x.decidedAt || y.id - x.id)[0]]
    }),
  )
}
/** By the run that they are of. */
let entriesOf: Map<number | null, typeof ledger>
let sentIn: Map<number, Message[]>
let broughtBy: Map<number, Order[]>
function sortByRun(): void {
  entriesOf = by(ledger, ({ runId }) => runId)
  sentIn = by(sentOnes(), ({ runId }) => runId)
  const touched = orders.filter((order) => touchOf(order))
  broughtBy = by(touched, (order) => touchOf(order)?.runId ?? 0)
}

function by<Row, Key>(rows: readonly Row[], keyOf: (row: Row) => Key): Map<Key, Row[]> {
  const sorted = new Map<Key, Row[]>()
  for (const row of rows) sorted.set(keyOf(row), [...(sorted.get(keyOf(row)) ?? []), row])
  return sorted
}

const touchOf = ({ id }: Order): Message | undefined => touches.get(id)

type Heard = Record<
  'sent' | 'delivered' | 'opened' | 'clicked' | 'unsubscribed' | 'complained',
  number
>

/** What was reported of a message up to a moment. */
function countHeard(figures: Heard, message: Message, until: number): void {
  const heard = (reports.get(message.messageId) ?? []).filter(({ at }) => at <= until)
  const did = (type: string): boolean => heard.some((one) => one.type === type)
  const atOnce = (message.sentAt ?? 0) + 10_000
  const clicks = heard.filter(({ type }) => type === 'message.clicked')
  const early = clicks.filter(({ at }) => at <= atOnce)
  const isScanner = new Set(early.map((one) => one.url)).size > 1
  const isDelivered = !did('message.bounced')
  figures.sent += 1
  if (isDelivered) figures.delivered += 1
  if (isDelivered && (did('message.opened') || did('message.clicked'))) figures.opened += 1
  if (isDelivered && clicks.length > 0 && !(isScanner && early.length === clicks.length)) figures.clicked += 1 // prettier-ignore
  if (did('message.unsubscribed')) figures.unsubscribed += 1
  if (did('message.complained')) figures.complained += 1
}

function fromScratch(
  workflowId: string,
  from: number,
  to: number,
  windowDays: number,
  step: string,
) {
  const cohort = runs.filter((run) => run.workflowId === workflowId && run.enteredAt >= from && run.enteredAt < to && run.enteredAt + windowDays * DAY_MS <= now) // prettier-ignore
  const until = (run: Run): number => run.enteredAt + windowDays * DAY_MS
  const figures = { reached: 0, sent: 0, delivered: 0, opened: 0, clicked: 0, unsubscribed: 0, complained: 0, ordered: 0, orders: 0, revenueMinor: 0, notSent: 0 } // prettier-ignore
  for (const run of cohort) {
    const decided = (entriesOf.get(run.id) ?? []).findLast(({ at, entry }) => at <= until(run) && 'step' in entry && entry.step === step && ['sends', 'skipped', 'left'].includes(entry.kind)) // prettier-ignore
    if (decided) figures.reached += 1
    if (decided && decided.entry.kind !== 'sends') figures.notSent += 1
    const message = (sentIn.get(run.id) ?? []).find((one) => one.step === step && (one.sentAt ?? Infinity) <= until(run)) // prettier-ignore
    if (message) countHeard(figures, message, until(run))
    const brought = (broughtBy.get(run.id) ?? []).filter(
      (order) => touchOf(order)?.step === step && (order.placedAt ?? Infinity) <= until(run),
    )
    if (brought.length > 0) figures.ordered += 1
    figures.orders += brought.length
    figures.revenueMinor += brought.reduce((sum, { totalMinor }) => sum + totalMinor, 0)
  }
  return { entered: cohort.length, ...figures }
}

/** What came of those who took a path, from then on. */
function wayFromScratch(workflowId: string, from: number, to: number, windowDays: number, step: string, branch: string | null) {
  const figures = { people: 0, delivered: 0, opened: 0, clicked: 0, bought: 0 }
  for (const run of runs) {
    const until = run.enteredAt + windowDays * DAY_MS
    if (run.workflowId !== workflowId || run.enteredAt < from || run.enteredAt >= to || until > now) continue
    const took = (entriesOf.get(run.id) ?? []).find(({ at, entry }) => at <= until && takes(entry, step, branch))
    const since = step === '' ? run.enteredAt : took?.at
    if (since === undefined) continue
    const heard = { sent: 0, delivered: 0, opened: 0, clicked: 0, unsubscribed: 0, complained: 0 }
    const after = (sentIn.get(run.id) ?? []).filter(({ sentAt }) => sentAt !== null && sentAt >= since && sentAt <= until)
    for (const message of after) countHeard(heard, message, until)
    figures.people += 1
    for (const figure of ['delivered', 'opened', 'clicked'] as const) figures[figure] += heard[figure] > 0 ? 1 : 0
    const bought = orders.some(({ customerId, placedAt }) => customerId === run.customerId && placedAt !== null && placedAt > since && placedAt <= until)
    figures.bought += bought ? 1 : 0
  }
  return figures
} // prettier-ignore

function takes(entry: LedgerEntry, step: string, branch: string | null): boolean {
  if (entry.kind === 'tookBranch') return entry.step === step && entry.branch === branch
  if (entry.kind === 'tookArm') return entry.step === step && entry.arm === branch
  return (
    entry.kind === 'came' && entry.step === step && (entry.cameAt === null) === (branch === null)
  )
}

const idOf = (name: string): string => [...names].find(([, one]) => one === name)?.[0] ?? ''

describe('results of each message, and the timetable and the people beside them', () => {
  test.each(['After dispatch', 'Open checkout', 'Review request', 'Two quiet months'])('%s', async (name) => {
    const workflowId = idOf(name)
    const [from, to, windowDays] = [now - 150 * DAY_MS, now - 20 * DAY_MS, 30]
    const asked = { shopId: DEMO_SHOP, workflowId, from, to, windowDays, now }
    const { over, through: { over: { numbers, ways } } } = await resultsWithNumbers(db, asked)
    expect(over.messages.length).toBeGreaterThan(0)
    for (const { step, notSent, fetched: _fetched, replied: _replied, ...figures } of over.messages) {
      const { entered, notSent: unsent, ...counted } = fromScratch(workflowId, from, to, windowDays, step)
      expect(figures, step).toEqual(counted)
      expect(over.entered).toBe(entered)
      expect(numbers.total.entered).toBe(entered)
      expect(notSent.reduce((sum, one) => sum + one.count, 0), step).toBe(unsent)
      const stop = numbers.steps.find((one) => one.step === step)
      expect(stop?.sent, step).toBe(counted.sent)
      expect((stop?.skipped ?? 0) + (stop?.left ?? 0), step).toBe(unsent)
      for (const measure of ['reached', 'opened', 'clicked', 'ordered'] as const) {
        const people = await peopleBehind(db, asked, { measure, step, isWithOpen: false, most: 10_000 })
        expect(people.length, `${measure} of ${step}`).toBe(counted[measure])
      }
    }
    expect(ways.length).toBeGreaterThan(1)
    for (const { step, branch, complained: _complained, unsubscribed: _unsubscribed, ...figures } of ways) {
      expect(figures, `${step} ${branch}`).toEqual(wayFromScratch(workflowId, from, to, windowDays, step, branch))
    }
  }) // prettier-ignore
})

test('the page of a message: its links, days, hours, and how soon people order', async () => {
  const workflowId = idOf('After dispatch')
  const [from, to, windowDays, step] = [now - 150 * DAY_MS, now - 20 * DAY_MS, 30, 'dispatch']
  const asked = { shopId: DEMO_SHOP, workflowId, from, to, windowDays, now }
  const detail = await messageDetail(db, asked, step, false)
  const counted = fromScratch(workflowId, from, to, windowDays, step)
  const sum = (rows: readonly { delivered: number; opened: number; clicked: number }[]) =>
    (['delivered', 'opened', 'clicked'] as const).map((key) => rows.reduce((all, one) => all + one[key], 0))
  const whole = [counted.delivered, counted.opened, counted.clicked]
  for (const rows of [detail.hours, detail.weekdays, detail.days]) expect(sum(rows)).toEqual(whole)
  // Everybody has a parcel of their own: as one link it was followed by all who clicked.
  expect(detail.links).toEqual([{ url: 'https://parcels.example/…', people: counted.clicked }])
  const delivered = runs
    .filter((run) => run.workflowId === workflowId && run.enteredAt >= from && run.enteredAt < to)
    .flatMap((run) => (sentIn.get(run.id) ?? []).filter((one) => one.step === step && !(reports.get(one.messageId) ?? []).some(({ type }) => type === 'message.bounced')))
  const within = (days: number): number => delivered.filter(({ customerId, sentAt }) => orders.some((order) => order.customerId === customerId && (order.placedAt ?? 0) > (sentAt ?? 0) && Math.ceil(((order.placedAt ?? 0) - (sentAt ?? 0)) / HOUR_MS) <= days * 24)).length / delivered.length
  // Nobody was watched for less than 20 days: until then it is a plain share.
  for (const days of [3, 10, 20]) {
    const point = detail.untilOrder?.curve.findLast(({ hours }) => hours <= days * 24)
    expect(point?.share).toBeCloseTo(within(days), 1)
  }
}) // prettier-ignore

test('the list and the timetable count what the ledger has', async () => {
  const since = now - 30 * DAY_MS
  const all = await numbersOfAll(db, DEMO_SHOP, since)
  const earned = await earnedSince(db, DEMO_SHOP, since)
  for (const [id, name] of names) {
    const own = ledger.filter(({ workflowId, at }) => workflowId === id && at >= since)
    const ofKind = (kind: string): number => own.filter(({ entry }) => entry.kind === kind).length
    const shown = all.get(id)
    expect([shown?.entered ?? 0, shown?.sent ?? 0, shown?.skipped ?? 0, shown?.left ?? 0, shown?.inProgress ?? 0], name).toEqual([ofKind('entered'), ofKind('sent'), ofKind('skipped'), ofKind('left'), runs.filter((run) => run.workflowId === id && run.status === 'inProgress').length]) // prettier-ignore
    const brought = orders.filter((order) => (order.placedAt ?? 0) >= since && touchOf(order)?.workflowId === id) // prettier-ignore
    expect(earned.get(id) ?? { orders: 0, revenueMinor: 0 }, name).toEqual({
      orders: brought.length,
      revenueMinor: brought.reduce((sum, { totalMinor }) => sum + totalMinor, 0),
    })
  }
  const { steps, branches } = await numbersOf(db, DEMO_SHOP, idOf('After dispatch'))
  for (const { step, sent } of steps) {
    const counted = ledger.filter(({ workflowId, entry }) => workflowId === idOf('After dispatch') && entry.kind === 'sent' && entry.step === step) // prettier-ignore
    expect(sent, step).toBe(counted.length)
  }
  for (const { branch, taken } of branches) {
    const counted = ledger.filter(({ workflowId, entry }) => workflowId === idOf('After dispatch') && entry.kind === 'tookBranch' && entry.branch === branch) // prettier-ignore
    expect(taken, String(branch)).toBe(counted.length)
  }
})

test.each(['Review request', 'Two quiet months', 'Open checkout'])('the arms of the test of %s', async (name) => {
  const workflowId = idOf(name)
  const { reports: [report] } = await workflowExperiments(db, { shopId: DEMO_SHOP, workflowId, now })
  if (!report) throw new Error('no test')
  const windowMs = report.plan.windowDays * DAY_MS
  const draws = new Map<string, { arm: string; at: number; runId: number | null }>()
  for (const { workflowId: of, customerId, at, runId, entry } of ledger) {
    if (of !== workflowId || entry.kind !== 'tookArm' || draws.has(customerId)) continue
    draws.set(customerId, { arm: entry.arm, at, runId })
  }
  for (const arm of report.arms) {
    const drawn = [...draws].filter(([, draw]) => draw.arm === arm.key)
    const over = drawn.filter(([, { at }]) => at + windowMs <= now)
    const within = (customerId: string, at: number, moment: number | null): boolean => moment !== null && moment > at && moment <= at + windowMs && customerId !== ''
    const bought = over.map(([id, { at }]) => orders.filter((order) => order.customerId === id && within(id, at, order.placedAt)))
    const did = (types: string[]): number => over.filter(([id, { at }]) => told.some((one) => one.customerId === id && types.includes(one.type) && within(id, at, one.at))).length
    expect(arm).toMatchObject({
      drawn: drawn.length,
      people: over.length,
      ordered: bought.filter((own) => own.length > 0).length,
      orders: bought.flat().length,
      uncutMinor: bought.flat().reduce((sum, { totalMinor }) => sum + totalMinor, 0),
      revenueMinor: bought.flat().reduce((sum, { totalMinor }) => sum + Math.min(totalMinor, report.cutMinor), 0),
      clicked: over.filter(([, { at, runId }]) => messages.some((one) => one.runId === runId && one.decidedAt >= at && one.clickedAt !== null && one.clickedAt <= at + windowMs)).length,
      reviewed: did(['review.submitted']),
      unsubscribed: did(['message.unsubscribed', 'message.complained']),
    })
  }
}) // prettier-ignore

describe('the holdout of the whole shop', () => {
  const windowMs = 30 * DAY_MS

  test('counts what ledger and orders have', async () => {
    const [report] = await holdoutReports(db, DEMO_SHOP, now)
    const firsts = new Map<string, { at: number; arm: string }>()
    const marketing = messages.filter((one) => one.marketing && one.decidedAt >= LIVED.from)
    const held = ledger.filter(({ entry }) => entry.kind === 'skipped' && entry.reason.code === 'holdout')
    const all = [
      ...marketing.map(({ customerId, decidedAt }) => ({ customerId, at: decidedAt, arm: 'marketing' })),
      ...held.map(({ customerId, at }) => ({ customerId, at, arm: 'holdout' })),
    ]
    for (const { customerId, at, arm } of all) {
      if (at < (firsts.get(customerId)?.at ?? Infinity)) firsts.set(customerId, { at, arm })
    }
    for (const arm of report?.arms ?? []) {
      const drawn = [...firsts].filter(([, one]) => one.arm === arm.key)
      const over = drawn.filter(([, { at }]) => at + windowMs <= now)
      const bought = over.map(([id, { at }]) => orders.filter(({ customerId, placedAt }) => customerId === id && placedAt !== null && placedAt > at && placedAt <= at + windowMs))
      expect(arm).toMatchObject({
        drawn: drawn.length,
        people: over.length,
        ordered: bought.filter((own) => own.length > 0).length,
        uncutMinor: bought.flat().reduce((sum, { totalMinor }) => sum + totalMinor, 0),
      })
    }
  })

  /** Everybody's life once more, with everybody held out or nobody: how many order in the time after their first. */
  async function orderedWith(percent: number): Promise<number> {
    const history = makeHistory().filter((event) => isWanted(ownerOf(event)))
    const lived = await liveHalfYear(db, history, { holdout: { percent, since: LIVED.from } })
    const marketing = new Set(lived.messages.filter((one) => one.marketing).map(({ run, step }) => `${run.workflow.id} ${step}`)) // prettier-ignore
    const firsts = new Map<string, number>()
    for (const { customerId, at, entry, workflow } of lived.entries) {
      const isFirst = percent === 0 ? entry.kind === 'sends' && marketing.has(`${workflow.id} ${entry.step}`) : entry.kind === 'skipped' && entry.reason.code === 'holdout'
      if (isFirst && !firsts.has(customerId)) firsts.set(customerId, at)
    }
    const placed = lived.events.filter(({ event }) => event.type === 'order.placed')
    const times = by(placed, ownerOf)
    const over = [...firsts].filter(([, at]) => at + windowMs <= now)
    const did = over.filter(([id, first]) => (times.get(id) ?? []).some(({ at }) => at > first && at <= first + windowMs))
    return did.length / over.length
  }

  test('finds what marketing really causes, which the same lives without it show', async () => {
    const truth = (await orderedWith(0)) - (await orderedWith(100))
    expect(truth).toBeGreaterThan(0.03)
    const [report] = await holdoutReports(db, DEMO_SHOP, now)
    const [others, held] = report?.arms ?? []
    if (!others || !held) throw new Error('no holdout')
    const found = differenceInterval({ did: others.ordered, of: others.people }, { did: held.ordered, of: held.people })
    expect(found?.low).toBeLessThan(truth)
    expect(found?.high).toBeGreaterThan(truth)
  })
}) // prettier-ignore
