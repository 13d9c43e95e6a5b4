import { eq, sql } from 'drizzle-orm'
import { hashPassword, keepUser } from '../backend/accounts/index.ts'
import type { Database } from '../backend/platform/db.ts'
import { saveGroup } from '../backend/addresses/index.ts'
import { senders } from '../backend/addresses/tables.ts'
import { storeImage } from '../backend/files/index.ts'
import { addSegments } from './segments.ts'
import { findShop, saveBrand, saveNotice, setClock } from '../backend/shop/index.ts'
import { reckonReorders } from '../backend/reorder/index.ts'
import { shops } from '../backend/shop/tables.ts'
import { createWorkflow, goLive } from '../backend/workflows/index.ts'
import { liveWorkflows } from '../drivers/live/liveWorkflows.ts'
import { Programs } from '../drivers/live/programs.ts'
import { ownFile } from '../core/messages/ownFiles.ts'
import { DAY_MS, HOUR_MS } from '../core/shared/duration.ts'
import type { ShopFacts } from '../core/events/facts.ts'
import type { Instant } from '../core/shared/time.ts'
import { combwrightBrand } from './brand.ts'
import { demoEvent, type DemoEvent } from './demoEvent.ts'
import { DEMO_START, makeHistory, ZONE } from './history.ts'
import { ownerOf } from '../core/life/oneLife.ts'
import { liveHere, loadLived, type LivePart } from './lived/load.ts'
import { livePast, livesIn, reordersBefore } from './lived/livePast.ts'
import type { LivedPast } from './lived/rows.ts'
import { LOGO } from './logo.ts'
import { addProductPictures } from './pictures.ts'
import { MAREN, TIAGO } from './workflows/shared.ts'
import { DRAFT_WORKFLOW, LIVE_WORKFLOWS } from './workflows/index.ts'

export const DEMO_SHOP = 'combwright'
/** For the demo on this machine only: everybody may know it. */
export const DEMO_PASSWORD = 'first inspection day'
export const DEMO_USERS = [
  { id: 'maren', name: 'Maren', email: 'maren@combwright.example', role: 'owner' },
  { id: 'aoife', name: 'Aoife', email: 'aoife@combwright.example', role: 'staff' },
] as const

/** So long the workflows have been live; what came of them is lived through in memory. */
const LIVED_DAYS = 183
/** The last hours are lived through by what a worker does: events come in, runs start, mails leave; most of a day’s do in the morning. */
const RUN_HOURS = 6

const LIVED_UNTIL = DEMO_START - RUN_HOURS * HOUR_MS
export const LIVED = { from: LIVED_UNTIL - LIVED_DAYS * DAY_MS, until: LIVED_UNTIL }

type Say = (text: string) => void

/** True once the demo shop has been loaded to its end. */
export async function isSeeded(db: Database): Promise<boolean> {
  const [shop] = await db.select({ now: shops.clockNow }).from(shops).where(eq(shops.id, DEMO_SHOP))
  return shop !== undefined && shop.now !== null && shop.now >= DEMO_START
}

/**
 * Loads the demo shop's past into an empty database. Returns its last hours, which are still to be lived; tests make do with
 * fewer people, and live in the thread that they run in.
 */
export async function seedPast(
  db: Database,
  say: Say,
  {
    isWanted = () => true,
    livePart = liveHere(db),
  }: { isWanted?: (customerId: string) => boolean; livePart?: LivePart } = {},
): Promise<DemoEvent[]> {
  const history = makeHistory().filter((event) => isWanted(ownerOf(event)))
  const { from, until } = LIVED
  await removeDemoShop(db)
  await addShop(db, from)
  await addBrand(db)
  await addWorkflows(db)
  await addSegments(db, DEMO_SHOP)
  await setClock(db, DEMO_SHOP, until)
  const known = withComplaint(history)
  say(`Living through a year of Combwright, half of it with its workflows: ${known.length} events to begin with`) // prettier-ignore
  const order = { shopId: DEMO_SHOP, domain: 'combwright.example', from, until, reorders: reordersBefore(known, from) } // prettier-ignore
  const lives = livesIn(known).map((events, place) => ({ place, events }))
  await loadLived(db, livePart, order, lives, ({ events, runs, messages }) =>
    say(`Writing it down: ${events} events, ${runs} runs, ${messages} messages`),
  )
  await addProductPictures(db, DEMO_SHOP)
  // The dates of that time have been looked at.
  await db.execute(sql`update date_sweeps set swept_until = ${until}, next_at = ${until}
    where shop_id = ${DEMO_SHOP}`)
  await Promise.all([db.execute(sql`analyze`), reckonReorders(db, DEMO_SHOP, until)])
  // Filled beside the other: as an empty table it would be read as a whole for every order that comes in.
  await db.execute(sql`analyze expected_reorders`)
  return history.filter(({ at }) => at > until)
}

/** Half a year with the workflows, each run really taken by the interpreter; with the shop as it is, or as somebody asks. */
export async function liveHalfYear(
  db: Database,
  history: readonly DemoEvent[],
  shop: Partial<ShopFacts> = {},
): Promise<LivedPast> {
  const own = await findShop(db, DEMO_SHOP)
  const workflows = await liveWorkflows(db, new Programs(), DEMO_SHOP, () => true)
  const known = withComplaint(history)
  const reorders = reordersBefore(known, LIVED.from)
  return livePast({ ...own, ...shop }, workflows, livesIn(known), { ...LIVED, reorders })
}

/** What is told until the last hours begin, in order of time. */
function withComplaint(history: readonly DemoEvent[]): DemoEvent[] {
  const until = history.filter(({ at }) => at <= LIVED.until)
  return [...until, complaint(LIVED.from)].toSorted((a, b) => a.at - b.at)
}

/** Somebody who once said that a mail was spam gets orders' messages only. */
const complaint = (at: Instant): DemoEvent =>
  demoEvent('message.complained', at - DAY_MS, 'c-0012', { message: { customerId: 'c-0012' } })

const SHOP_TABLES = [
  'refused_events', 'segments', 'erasures', 'connections', 'connection_bodies', 'imports', 'import_pieces', 'import_refusals', 'import_before', 'files', 'intake_people', 'intakes', 'reorder_intervals', 'expected_reorders', 'reorder_reckonings', 'changes', 'kept_figures', 'result_days', 'sending_days', 'kept_blocks', 'designs', 'ways_out', 'dead_addresses', 'link_targets', 'short_links', 'documents', 'mails', 'messages', 'coupons', 'ledger', 'bulk_changes', 'runs', 'due_runs', 'date_sweeps', 'workflow_states', 'workflow_versions', 'workflows',
  'events', 'order_lines', 'orders', 'carts', 'subscriptions', 'reviews', 'products', 'customers',
  'alerts', 'shop_rounds', 'senders', 'staff_groups', 'api_keys', 'answered_requests', 'audit_entries', 'account_links', 'sessions', 'users',
] as const // prettier-ignore

/** Takes out what an earlier or unfinished load has left. Other shops in the database stay. */
async function removeDemoShop(db: Database): Promise<void> {
  await db.transaction(async (tx) => {
    // What is on record goes with its shop, and in no other way.
    await tx.execute(sql`select set_config('yomble.removes_shop', ${DEMO_SHOP}, true)`)
    for (const table of SHOP_TABLES) {
      await tx.execute(sql`delete from ${sql.identifier(table)} where shop_id = ${DEMO_SHOP}`)
    }
  })
  await db.delete(shops).where(eq(shops.id, DEMO_SHOP))
}

const STAFF_GROUPS = [
  { key: 'care', name: 'Care team', addresses: ['tiago@combwright.example', 'aoife@combwright.example'] },
  { key: 'founder', name: 'Founder', addresses: ['maren@combwright.example'] },
] as const // prettier-ignore

async function addShop(db: Database, clockNow: number): Promise<void> {
  await db.insert(shops).values({
    id: DEMO_SHOP,
    name: 'Combwright',
    zone: ZONE,
    currency: 'EUR',
    locale: 'en-IE',
    defaultSenderName: 'Combwright',
    defaultSenderAddress: 'hello@combwright.example',
    messageGap: 'PT20H',
    quietFrom: '21:00',
    quietTo: '08:00',
    backOfficeUrl: 'https://admin.combwright.example/orders/{id}',
    orderPageUrl: 'https://combwright.example/orders/{number}',
    holdouts: [{ percent: 10, since: clockNow, until: null }],
    clockNow,
  })
  await db
    .insert(senders)
    .values(
      [MAREN, TIAGO].map((sender) => ({ shopId: DEMO_SHOP, ...sender, verifiedAt: clockNow })),
    )
  for (const group of STAFF_GROUPS) await saveGroup(db, DEMO_SHOP, group)
  const passwordHash = await hashPassword(DEMO_PASSWORD)
  for (const user of DEMO_USERS) await keepUser(db, DEMO_SHOP, { ...user, passwordHash })
}

async function addBrand(db: Database): Promise<void> {
  const { id } = await storeImage(db, DEMO_SHOP, { name: 'logo.png', bytes: LOGO })
  await saveBrand(db, DEMO_SHOP, combwrightBrand(ownFile(id)))
}

/** Which of the shop's notices a workflow sends in its place, by the workflow's name. */
const TAKEN_OVER: Readonly<Record<string, string>> = {
  'Order confirmation': 'order-confirmation',
  'After dispatch': 'dispatch',
  'Payment trouble': 'payment-failed',
  'Renewal payment failed': 'renewal-failed',
  'After the trial': 'trial-ended',
}

async function addWorkflows(db: Database): Promise<void> {
  for (const definition of LIVE_WORKFLOWS) {
    const id = await createWorkflow(db, DEMO_SHOP, definition)
    await goLive(db, DEMO_SHOP, id, 0, 'maren')
    const notice = TAKEN_OVER[definition.name]
    if (notice) await saveNotice(db, DEMO_SHOP, notice, id)
  }
  await createWorkflow(db, DEMO_SHOP, DRAFT_WORKFLOW)
}
