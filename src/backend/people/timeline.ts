import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { TimelineLine, TimelineShow } from '../../contract/people.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { EVENT_TYPES } from '../../core/events/eventTypes.ts'
import type { ActEntry } from '../../core/people/act.ts'
import { toldWords } from '../../core/words/toldWords.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { arrayOf, document, rowsOf, type Db } from '../platform/db.ts'
import { readJson } from '../platform/readJson.ts'
import { saidOf, wordsFor } from '../runs/index.ts'
import type { Shop } from '../shop/index.ts'

const PAGE = 60

/** A line's place among all of a person: newest first, of one moment decisions before what was told. */
const place = z.tuple([z.int(), z.int(), z.int()])
type Place = z.infer<typeof place>
const TOLD = 0
const DECIDED = 1

const toldRow = z.object({
  id: z.number(),
  at: z.number(),
  type: z.enum(EVENT_TYPES),
  data: document<EventData>(),
})
const decidedRow = z.object({
  id: z.number(),
  at: z.number(),
  kind: z.string(),
  entry: document<LedgerEntry | ActEntry>(),
  runId: z.number().nullable(),
  workflowId: z.string().nullable(),
  definition: document<Definition>().nullable(),
})

/** Kinds of ledger entries, by what is to be shown. "Decided to send" is followed by "sent": one is enough. */
const KINDS: Readonly<Record<TimelineShow, SQL | null>> = {
  all: sql`l.kind <> 'sends'`,
  events: null,
  messages: sql`l.kind in ('sent', 'failed', 'unsure', 'held')`,
  decisions: sql`l.kind not in ('sends', 'acted')`,
  acts: sql`l.kind in ('acted', 'takenOut', 'hurried', 'repaired')`,
}
const TYPES: Readonly<Record<TimelineShow, SQL | null>> = {
  all: sql`true`,
  events: sql`e.type not like 'message.%'`,
  messages: sql`e.type like 'message.%'`,
  decisions: null,
  acts: null,
}

/** A page of everything that is known to have happened to somebody, newest first. Throws AppError `bad_input` for a place that no page has named. */
export async function personTimeline(
  db: Db,
  shop: Shop,
  customerId: string,
  { show, after }: { show: TimelineShow; after?: string | undefined },
): Promise<{ lines: TimelineLine[]; after: string | null }> {
  const from = after === undefined ? null : readJson(place, after, 'after')
  const told = TYPES[show] === null ? [] : await toldOf(db, shop, customerId, TYPES[show], from)
  const decided = KINDS[show] === null ? [] : await decidedOf(db, shop, customerId, KINDS[show], from) // prettier-ignore
  const all = [...told, ...decided].toSorted((a, b) => compare(b.place, a.place))
  const page = all.slice(0, PAGE)
  const last = page.at(-1)
  return {
    lines: page.map(({ line }) => line),
    after: all.length > PAGE && last ? JSON.stringify(last.place) : null,
  }
}

interface Placed {
  place: Place
  line: TimelineLine
}

const compare = (a: Place, b: Place): number => a[0] - b[0] || a[1] - b[1] || a[2] - b[2]

/** What comes behind a place, for the rows of one source. */
function behind(from: Place | null, source: number, at: SQL, id: SQL): SQL {
  if (from === null) return sql`true`
  const [moment, other, last] = from
  if (source === other) return sql`(${at}, ${id}) < (${moment}::bigint, ${last}::bigint)`
  return source < other ? sql`${at} <= ${moment}` : sql`${at} < ${moment}`
}

async function toldOf(
  db: Db,
  shop: Shop,
  customerId: string,
  types: SQL,
  from: Place | null,
): Promise<Placed[]> {
  const rows = await rowsOf(
    db,
    toldRow,
    sql`select e.seq as id, e.time as at, e.type, e.data from events e
    where e.shop_id = ${shop.id} and e.customer_id = ${customerId} and ${types}
      and ${behind(from, TOLD, sql`e.time`, sql`e.seq`)}
    order by e.time desc, e.seq desc limit ${PAGE + 1}`,
  )
  return rows.map(({ id, at, type, data }) => ({
    place: [at, TOLD, id],
    line: {
      what: 'event',
      key: `e${id}`,
      at,
      kind: type,
      words: toldWords(type, data, shop),
      workflow: null,
      runId: null,
      mailId: null,
    },
  }))
}

async function decidedOf(
  db: Db,
  shop: Shop,
  customerId: string,
  kinds: SQL,
  from: Place | null,
): Promise<Placed[]> {
  const rows = await rowsOf(
    db,
    decidedRow,
    sql`select l.id, l.at, l.kind, l.entry, l.run_id as "runId", l.workflow_id as "workflowId", v.definition
    from ledger l
    left join workflow_versions v on v.shop_id = l.shop_id and v.workflow_id = l.workflow_id
      and v.version = l.version
    where l.shop_id = ${shop.id} and l.customer_id = ${customerId} and ${kinds}
      and ${behind(from, DECIDED, sql`l.at`, sql`l.id`)}
    order by l.at desc, l.id desc limit ${PAGE + 1}`,
  )
  const mails = await mailsOf(db, shop.id, rows)
  const words = await wordsFor(db, shop, rows.map(({ entry }) => entry)) // prettier-ignore
  return rows.map(({ id, at, kind, entry, runId, workflowId, definition }) => ({
    place: [at, DECIDED, id],
    line: {
      what: kind === 'acted' ? 'act' : 'decision',
      key: `l${id}`,
      at,
      kind,
      words: saidOf(entry, definition, words).words,
      workflow: workflowId === null ? null : { id: workflowId, name: definition?.name ?? '' },
      runId,
      mailId: mails.get(id) ?? null,
    },
  }))
}

/** The mail in the demo's mailbox that a message became, by the ledger entry that says it was sent. */
async function mailsOf(
  db: Db,
  shopId: string,
  rows: readonly z.infer<typeof decidedRow>[],
): Promise<Map<number, number>> {
  const sent = rows.flatMap(({ id, kind }) => (kind === 'sent' ? [id] : []))
  if (sent.length === 0) return new Map()
  const found = await rowsOf(
    db,
    z.object({ id: z.number(), mailId: z.number() }),
    sql`select l.id, min(mails.id) as "mailId" from ledger l
    join messages m on m.shop_id = l.shop_id and m.run_id = l.run_id and m.step = l.entry->>'step'
    join mails on mails.shop_id = m.shop_id and mails.message_id = m.message_id
    where l.shop_id = ${shopId} and l.id = any(${arrayOf(sent, 'bigint')}) group by 1`,
  )
  return new Map(found.map(({ id, mailId }) => [id, mailId]))
}
