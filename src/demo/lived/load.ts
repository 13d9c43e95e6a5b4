import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { sql } from 'drizzle-orm'
import { from as copyFrom } from 'pg-copy-streams'
import { z } from 'zod'
import { rowsOf, type Database } from '../../backend/platform/db.ts'
import { importPast } from '../../backend/shop/index.ts'
import type { LivedEntry, LivedRun } from '../../core/life/lived.ts'
import type { LivedMessage, LivedPast } from './rows.ts'

/** So many events at a time. */
const CHUNK = 4000

type Value = string | number | boolean | object | null
type Row = Readonly<Record<string, Value>>

/**
 * Writes down a time that was lived through, as if the workers had: events by the way they always come
 * in, all else by COPY. The clock must stand at its end, and the shop must have nothing of that time yet.
 */
export async function loadLived(
  db: Database,
  shopId: string,
  lived: LivedPast,
  domain: string,
): Promise<void> {
  const firstRun = await nextId(db, 'runs')
  const ids = new Map(lived.runs.map((run, index) => [run, firstRun + index]))
  const idOf = (run: LivedRun): number => {
    const id = ids.get(run)
    if (id === undefined) throw new RangeError('A message or an entry of a run that is not there')
    return id
  }
  nameMessages(lived.messages, ({ run, step }) => `<${shopId}.${idOf(run)}.${step}@${domain}>`)
  const firstEntry = await nextId(db, 'ledger')
  const firstMessage = await nextId(db, 'messages')
  await Promise.all([
    takeIn(db, shopId, lived).then((seqs) => copy(db, 'runs', lived.runs.map((run) => runRow(shopId, idOf(run), run, seqs)))), // prettier-ignore
    copy(db, 'ledger', lived.entries.map((entry, index) => entryRow(shopId, firstEntry + index, entry, idOf))), // prettier-ignore
  ])
  await copy(db, 'messages', lived.messages.map((message, index) => messageRow(shopId, firstMessage + index, message, idOf, domain))) // prettier-ignore
  await copy(db, 'coupons', lived.coupons.map((coupon) => couponRow(shopId, coupon, idOf))) // prettier-ignore
  await goOnCounting(db)
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

const COUNTED = ['runs', 'ledger', 'messages'] as const

async function nextId(db: Database, table: (typeof COUNTED)[number]): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ id: z.number() }),
    sql`select coalesce(max(id), 0) + 1 as id from ${sql.identifier(table)}`,
  )
  return row?.id ?? 1
}

/** What comes after is numbered on from here. */
async function goOnCounting(db: Database): Promise<void> {
  for (const table of COUNTED) {
    await db.execute(
      sql`select setval(pg_get_serial_sequence(${table}, 'id'), (select coalesce(max(id), 1) from ${sql.identifier(table)}))`,
    )
  }
}

async function takeIn(
  db: Database,
  shopId: string,
  { events }: LivedPast,
): Promise<Map<string, number>> {
  for (let at = 0; at < events.length; at += CHUNK) {
    const some = events.slice(at, at + CHUNK)
    await importPast(db, shopId, some.map(({ event }) => event)) // prettier-ignore
  }
  return seqsOf(db, shopId)
}

/** The numbers that events have come to have, by their ids. */
async function seqsOf(db: Database, shopId: string): Promise<Map<string, number>> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.string(), seq: z.number() }),
    sql`select event_id as id, seq from events where shop_id = ${shopId}`,
  )
  return new Map(rows.map(({ id, seq }) => [id, seq]))
}

function runRow(
  shopId: string,
  id: number,
  { workflow, customerId, subjectId, line, event, dateKey, state, outcome }: LivedRun,
  seqs: ReadonlyMap<string, number>,
): Row {
  const seq = event ? (seqs.get(event.event.id) ?? null) : null
  const perLine = line === null ? '' : `:${line}`
  return {
    shop_id: shopId,
    id,
    workflow_id: workflow.id,
    version: workflow.version,
    customer_id: customerId,
    subject_id: subjectId,
    line,
    idempotency_key: dateKey ?? `event:${seq}${perLine}`,
    event_seq: seq,
    entered_at: state.enteredAt,
    status: state.status,
    step: state.step,
    since: state.since,
    due_at: state.dueAt,
    parked_until: state.dueAt,
    awaits: state.awaits,
    skip_next: state.skipNext,
    skip_before: state.skipBefore,
    hours: state.hours,
    owed: state.owed,
    moved: false,
    outcome,
  }
}

function entryRow(
  shopId: string,
  id: number,
  { at, workflow, run, customerId, subjectId, entry }: LivedEntry,
  idOf: (run: LivedRun) => number,
): Row {
  return {
    shop_id: shopId,
    id,
    at,
    workflow_id: workflow.id,
    version: workflow.version,
    run_id: run && idOf(run),
    customer_id: customerId,
    subject_id: subjectId,
    kind: entry.kind,
    entry,
  }
}

function messageRow(
  shopId: string,
  id: number,
  message: LivedMessage,
  idOf: (run: LivedRun) => number,
  domain: string,
): Row {
  const { run, step, channel, marketing, to, at, failed, openedAt, clickedAt } = message
  return {
    shop_id: shopId,
    id,
    run_id: idOf(run),
    workflow_id: run.workflow.id,
    version: run.workflow.version,
    step,
    customer_id: run.customerId,
    channel,
    marketing,
    status: failed ? 'failed' : 'sent',
    message_id: `<${shopId}.${idOf(run)}.${step}@${domain}>`,
    to_address: to,
    decided_at: at,
    sent_at: failed ? null : at,
    attempts: 1,
    last_error: failed ? '550 5.1.1 no such mailbox' : null,
    opened_at: openedAt,
    clicked_at: clickedAt,
  }
}

function couponRow(
  shopId: string,
  { run, step, code, at, expiresAt }: LivedPast['coupons'][number],
  idOf: (run: LivedRun) => number,
): Row {
  const { minimum, categories, maxUses, pattern } = step
  const shared = !pattern.includes('#')
  return {
    shop_id: shopId,
    code,
    run_id: idOf(run),
    workflow_id: run.workflow.id,
    step: step.key,
    customer_id: run.customerId,
    discount: step.discount,
    terms: {
      ...(minimum && { minimum }),
      ...(categories && { categories }),
      maxUses: maxUses ?? (shared ? null : 1),
    },
    shared,
    issued_at: at,
    expires_at: expiresAt,
  }
}

/** Writes rows by COPY, in PostgreSQL's text format. */
async function copy(db: Database, table: string, rows: readonly Row[]): Promise<void> {
  const columns = Object.keys(rows[0] ?? {})
  if (columns.length === 0) return
  const client = await db.$client.connect()
  try {
    const into = client.query(copyFrom(`copy ${table} (${columns.join(', ')}) from stdin`))
    await pipeline(Readable.from(linesOf(columns, rows)), into)
  } finally {
    client.release()
  }
}

function* linesOf(columns: readonly string[], rows: readonly Row[]): Generator<string> {
  for (const row of rows) {
    yield `${columns.map((column) => written(row[column] ?? null)).join('\t')}\n`
  }
}

const ESCAPES: Readonly<Record<string, string>> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' } // prettier-ignore

/** A value as COPY's text format has it (PostgreSQL manual, COPY, "Text Format"). */
function written(value: Value): string {
  if (value === null) return String.raw`\N`
  const text = typeof value === 'object' ? JSON.stringify(value) : String(value)
  return text.replaceAll(/[\\\t\n\r]/g, (character) => ESCAPES[character] ?? character)
}
