import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { rowsOf } from '../../backend/platform/db.ts'
import { importPast } from '../../backend/shop/index.ts'
import { liveWorkflows } from '../../drivers/live/liveWorkflows.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { aDefinition, anEmail, happened, ordersEver, START, wait } from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import type { DemoEvent } from '../demoEvent.ts'
import { DEMO_START, makeHistory } from '../history.ts'
import { OneLife, ownerOf } from '../../core/life/oneLife.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const WORKFLOWS: readonly Definition[] = [
  aDefinition({
    name: 'By what was ordered',
    priority: 70,
    exclusions: [{ key: 'refunded', when: happened('order.refunded'), effect: 'leave' }],
    steps: [
      { ...wait('morning', 'P1D'), at: '10:00' } as ReturnType<typeof wait>,
      {
        key: 'again',
        kind: 'split',
        branches: [{ key: 'known', name: 'Known', when: ordersEver(3), steps: [anEmail('known')] }],
        otherwise: [anEmail('new', { purpose: 'marketing' })],
      },
      { key: 'sent', kind: 'waitFor', event: 'order.fulfilled', about: 'subject', limit: 'P2D', came: [anEmail('came')], otherwise: [] },
    ],
  }),
  aDefinition({
    name: 'Quiet days',
    trigger: { kind: 'date', field: 'customer.lastOrderAt', direction: 'after', days: 3, at: '09:30', zone: 'recipient' },
    entry: { rule: { kind: 'after', duration: 'P5D' }, overlap: 'one' },
    steps: [
      {
        key: 'e',
        kind: 'experiment',
        name: 'One or none',
        lottery: 'quiet',
        arms: [
          { key: 'one', name: 'One', weight: 60, steps: [anEmail('quiet', { purpose: 'marketing', subject: 'Are you well?', body: 'Are you well?' })] },
          { key: 'none', name: 'None', weight: 40, holdout: true, steps: [] },
        ],
      },
    ],
  }),
] // prettier-ignore

const SHIFT_DAYS = 15

/** Events of the demo's last two weeks, as if they were the next two: by some of its people. */
function someEvents(): { known: DemoEvent[]; coming: DemoEvent[] } {
  const chosen = (event: DemoEvent): boolean => Number(ownerOf(event).slice(2)) % 40 === 10
  const own = makeHistory().filter(chosen)
  const from = DEMO_START - SHIFT_DAYS * DAY_MS
  return {
    known: own.filter(({ at }) => at <= from),
    coming: own
      .filter(({ at }) => at > from)
      .map(({ at, event }) => {
        const later = at + SHIFT_DAYS * DAY_MS
        return { at: later, event: { ...event, time: formatInstant(later) } }
      }),
  }
}

interface Entry {
  at: Instant
  workflow: string
  customer: string
  kind: string
  step: string | null
}
const inOrder = (entries: readonly Entry[]): string[] =>
  entries
    .filter(({ kind }) => kind !== 'sent')
    .map(
      ({ at, workflow, customer, kind, step }) =>
        `${customer} ${formatInstant(at)} ${workflow} ${kind} ${step ?? ''}`,
    ) // prettier-ignore
    .toSorted()

test('what is lived through in memory is what the workers would have done', async () => {
  const { known, coming } = someEvents()
  await importPast(world.db, SHOP, known.map(({ event }) => event)) // prettier-ignore
  for (const definition of WORKFLOWS) await world.publish(definition)
  const workflows = await liveWorkflows(world.db, world.programs, SHOP, () => true)
  const until = START + (SHIFT_DAYS + 8) * DAY_MS
  for (const { at, event } of coming) {
    if (at > (await clock())) await world.moveTo(at)
    await world.post(event)
  }
  await world.moveTo(until)

  const shop = await world.shop()
  const lived = [...new Set([...known, ...coming].map(ownerOf))].flatMap((id) => {
    const life = new OneLife(shop, workflows, {
      leaves: () => undefined,
      issues: () => 'CODE',
    })
    life.live([...known, ...coming].filter((event) => ownerOf(event) === id), START, until) // prettier-ignore
    return life.entries
  })
  const rows = await rowsOf(
    world.db,
    z.object({ at: z.number(), workflow: z.string(), customer: z.string(), kind: z.string(), step: z.string().nullable() }), // prettier-ignore
    sql`select at, workflow_id as workflow, customer_id as customer, kind, entry->>'step' as step from ledger`,
  )
  expect(rows.length).toBeGreaterThan(40)
  expect(
    inOrder(
      lived.map(({ at, workflow, customerId, entry }) => ({ at, workflow: workflow.id, customer: customerId, kind: entry.kind, step: 'step' in entry ? entry.step : null })), // prettier-ignore
    ),
  ).toEqual(inOrder(rows))
})

const clock = async (): Promise<Instant> => {
  const [row] = await rowsOf(world.db, z.object({ now: z.number() }), sql`select clock_now as now from shops`) // prettier-ignore
  return row?.now ?? 0
}
