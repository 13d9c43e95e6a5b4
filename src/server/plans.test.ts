import pg from 'pg'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { HOUR_MS } from '../core/shared/duration.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../testing/builders.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { asked, placesIn, type Asked } from '../testing/asked.ts'
import { multiply } from '../testing/multiply.ts'
import { SHOP } from '../testing/world.ts'

/** Tables that grow with what happens in a shop, or with its people. */
const GROWING = ['customers', 'orders', 'order_lines', 'carts', 'subscriptions', 'reviews', 'events', 'runs', 'ledger', 'messages', 'mails', 'coupons', 'expected_reorders', 'changes', 'audit_entries', 'short_links'] as const // prettier-ignore

/** What looks something up, or shows the newest of it: here not even all that one shop has may be read. */
const LOOKUPS: ReadonlySet<string> = new Set([
  'Names of workflows', 'A workflow', 'Ledger', 'Ledger, searched for an order', 'Ledger, searched for nothing there is',
  'Ledger of a workflow', 'Ledger, one kind', 'A run', 'What comes of a run', 'What happened to a person', 'Segments', 'Events',
  'What was changed', 'Files brought in', 'Counter: customers', 'Counter: events', 'People to rehearse with', 'Its tests',
]) // prettier-ignore

/** A node of a plan as PostgreSQL explains it. */
interface Plan {
  'Node Type': string
  'Relation Name'?: string
  'Index Cond'?: string
  'Index Name'?: string
  'Recheck Cond'?: string
  Plans?: Plan[]
}

interface Query {
  text: string
  values: unknown[]
}
/** What is asked of the database while `listens`. */
const heard: Query[] = []
let listens = false
const query = Reflect.get(pg.Client.prototype, 'query') as (...given: unknown[]) => unknown

let api: Api
beforeAll(async () => {
  api = await makeApi()
  await api.world.publish(aDefinition({ name: 'By event', steps: [wait('w', 'P1D'), anEmail('m')] })) // prettier-ignore
  await api.world.publish(
    aDefinition({
      name: 'By date',
      trigger: { kind: 'date', field: 'customer.lastOrderAt', direction: 'after', days: 30, at: '09:00', zone: 'shop' },
      steps: [anEmail('m', { subject: 'we miss you', body: 'Hello' })],
    }),
  ) // prettier-ignore
  await api.world.post(...['1', '2'].map((id) => orderEvent('order.placed', START, { id, number: `10${id}`, customerId: `c${id}` }, { id: `c${id}`, email: `somebody${id}@example.org` }))) // prettier-ignore
  await api.world.moveTo(START + 25 * HOUR_MS)
  // Enough that the planner has a choice, and knows what it chooses between.
  await multiply(api.world.db, { shopId: SHOP, times: 2000, workflows: 1, piece: 2000 }, () => undefined)
  await api.world.db.execute(sql`vacuum analyze`)
  pg.Client.prototype.query = function (this: pg.Client, ...given: unknown[]) {
    const [first, second] = given as [string | { text: string; values?: unknown[] }, unknown[] | undefined]
    if (listens && first) {
      const text = typeof first === 'string' ? first : first.text
      const values = (typeof first === 'string' ? second : (first.values ?? second)) ?? []
      if (/^\s*(select|with)\b/i.test(text)) heard.push({ text, values })
    }
    return Reflect.apply(query, this, given)
  } as pg.Client['query']
}) // prettier-ignore
afterAll(async () => {
  pg.Client.prototype.query = query as pg.Client['query']
  await api.close()
})

/** The queries that a question takes. */
async function queriesOf({ name, method = 'GET', url, payload }: Asked): Promise<Query[]> {
  heard.length = 0
  listens = true
  const answer = await api.call(method, url, payload)
  listens = false
  expect([name, answer.statusCode, answer.statusCode === 200 ? '' : answer.body]).toEqual([name, 200, '']) // prettier-ignore
  return [...heard]
}

/** Which growing tables a query reads the whole of, or all that one shop has in them. */
async function readsAllOf(
  client: pg.Client,
  { text, values }: Query,
  isWhole: (plan: Plan) => boolean,
): Promise<string[]> {
  const { rows } = await client.query<{ 'QUERY PLAN': [{ Plan: Plan }] }>(`explain (format json) ${text}`, values) // prettier-ignore
  const found: string[] = []
  const walk = (plan: Plan, stopsEarly: boolean): void => {
    const table = plan['Relation Name']
    if (table && (GROWING as readonly string[]).includes(table) && isWhole(plan) && !stopsEarly) found.push(table) // prettier-ignore
    const type = plan['Node Type']
    const next = type === 'Limit' || (stopsEarly && !GATHERS.test(type))
    for (const child of plan.Plans ?? []) walk(child, next)
  }
  walk(rows[0]?.['QUERY PLAN'][0].Plan as Plan, false)
  return found
}

/** What has to see all that is below it before it says anything. */
const GATHERS = /Sort|Aggregate|Hash|Unique|WindowAgg|Materialize|CTE|SetOp|Group/

/** Every row of it: with sequential scans forbidden there is one only where no index would do. */
const isOfAll = (plan: Plan): boolean => plan['Node Type'] === 'Seq Scan'

/** Every row of it, or every row of a shop. */
function isOfAllOrShop(plan: Plan): boolean {
  const type = plan['Node Type']
  if (OF_WHAT_IS_OPEN.has(plan['Index Name'] ?? '')) return false
  if (type === 'Bitmap Heap Scan') return isOfShop(plan['Recheck Cond'])
  return isOfAll(plan) || (type.startsWith('Index') && isOfShop(plan['Index Cond']))
}

/** Indexes of what is under way: rows leave them. */
const OF_WHAT_IS_OPEN = new Set(['messages_open', 'events_new', 'runs_due', 'runs_awaiting'])

const isOfShop = (condition: string | undefined): boolean =>
  condition === undefined || /^\(*(\w+\.)?shop_id = [^()]*\)*$/.test(condition)

test('no question of a screen reads a whole growing table; what looks something up reads not even all that its shop has', async () => {
  const places = await placesIn(api.world.db, SHOP)
  const client = new pg.Client({ connectionString: api.world.url })
  await client.connect()
  await client.query('set enable_seqscan = off')
  const found: string[] = []
  const questions = asked(places)
  for (const question of questions) {
    const isWhole = LOOKUPS.has(question.name) ? isOfAllOrShop : isOfAll
    for (const one of await queriesOf(question)) {
      for (const table of await readsAllOf(client, one, isWhole)) {
        found.push(`${question.name}: ${table}: ${one.text.replaceAll(/\s+/g, ' ').slice(0, 200)}`)
      }
    }
  }
  // The check itself finds what it is for.
  const all = { text: `select count(*) from orders where total_minor > 0`, values: [] }
  expect(await readsAllOf(client, all, isOfAll)).toEqual(['orders'])
  const ofShop = { text: `select count(*) from orders where shop_id = '${SHOP}'`, values: [] }
  expect(await readsAllOf(client, ofShop, isOfAllOrShop)).toEqual(['orders'])
  await client.end()
  expect(found).toEqual([])
  const names = new Set(questions.map(({ name }) => name))
  expect([...LOOKUPS].filter((name) => !names.has(name))).toEqual([])
}, 120_000)
