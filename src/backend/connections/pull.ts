import { and, eq, isNotNull, lte } from 'drizzle-orm'
import type { IncomingMessage } from 'node:http'
import type { PullRule, PullState } from '../../core/connections/pull.ts'
import { MINUTE_MS } from '../../core/shared/duration.ts'
import type { Database } from '../platform/db.ts'
import { askPublic } from '../platform/publicHttp.ts'
import { realNow } from '../platform/realTime.ts'
import type { Evaluator } from './evaluate.ts'
import { takeBody } from './receive.ts'
import type { Connection } from './store.ts'
import { connections } from './tables.ts'

const TIMEOUT_MS = 20_000
const MOST_BYTES = 1024 * 1024
/** So many pages in one go; the next goes on from there. */
const MOST_PAGES = 50

interface PullDeps {
  db: Database
  evaluator: Evaluator
  allowPrivate: boolean
}

/**
 * Fetches what is due by the connections that fetch, page by page. Each connection is taken by one worker at a time: its next turn is set
 * before it is fetched. Returns how many were.
 */
export async function pullDue(deps: PullDeps): Promise<number> {
  const now = realNow()
  const due = await deps.db
    .select()
    .from(connections)
    .where(and(eq(connections.isOn, true), isNotNull(connections.pull), lte(connections.nextPullAt, now)))
  let pulled = 0
  for (const connection of due) {
    const { pull } = connection
    if (!pull || !(await takeTurn(deps.db, connection, now + pull.everyMinutes * MINUTE_MS))) continue
    const state = await pullOne(deps, connection, pull)
    await deps.db.update(connections).set({ pullState: state }).where(byId(connection))
    pulled += 1
  }
  return pulled
} // prettier-ignore

const byId = ({ shopId, id }: Connection) =>
  and(eq(connections.shopId, shopId), eq(connections.id, id))

async function takeTurn(db: Database, connection: Connection, nextPullAt: number): Promise<boolean> {
  const { nextPullAt: before } = connection
  if (before === null) return false
  const taken = await db
    .update(connections)
    .set({ nextPullAt })
    .where(and(byId(connection), eq(connections.nextPullAt, before)))
    .returning({ id: connections.id })
  return taken.length > 0
} // prettier-ignore

/**
 * Fetches pages until there is no next one, or one on which nothing stands. Pages of what is known are gone through: what is new may stand on
 * the last as well as on the first. What went wrong is said; what came before stays.
 */
async function pullOne(deps: PullDeps, connection: Connection, rule: PullRule): Promise<PullState> {
  const { cursor = null, etag = null } = connection.pullState ?? {}
  const state: PullState = { at: realNow(), problem: null, pages: 0, fresh: 0, refused: 0, cursor, etag }
  try {
    for (let isOver = false; !isOver && state.pages < MOST_PAGES;) {
      const url = state.cursor ?? rule.url
      const isFirst = url === rule.url
      const page = await fetchPage(url, rule, isFirst ? state.etag : null, deps.allowPrivate)
      if (page === null) break
      const { outcome } = await takeBody(deps.db, deps.evaluator, connection, page.body)
      state.pages += 1
      state.fresh += outcome.fresh
      if (outcome.problems.length > 0) state.refused += 1
      if (isFirst) state.etag = page.etag
      state.cursor = await nextOf(deps.evaluator, rule, url, page.body)
      // A feed whose end names itself is taken up there.
      const isEnd = state.cursor === null || state.cursor === url
      isOver = isEnd || (outcome.events === 0 && outcome.problems.length === 0)
    }
  } catch (error) {
    state.problem = (error as Error).message || 'could not be reached'
  }
  return state
} // prettier-ignore

async function nextOf(
  evaluator: Evaluator,
  { next }: PullRule,
  url: string,
  body: string,
): Promise<string | null> {
  if (next.trim() === '') return null
  const told = await evaluator.evaluate(next, body)
  if (!told.ok) throw new TypeError(`the next page: ${told.message}`)
  return nextPage(url, told.value)
}

/** A page, or null where it has not changed. Throws for whatever is no page. */
async function fetchPage(
  url: string,
  { url: own, authorization }: PullRule,
  etag: string | null,
  allowPrivate: boolean,
): Promise<{ body: string; etag: string | null } | null> {
  const headers = {
    accept: 'application/json',
    // What a page names next may be anybody's: the secret goes to the own server alone.
    ...(authorization !== '' && new URL(url).origin === new URL(own).origin && { authorization }),
    ...(etag !== null && { 'if-none-match': etag }),
  }
  const answer = await askPublic(new URL(url), { method: 'GET', headers, allowPrivate, timeoutMs: TIMEOUT_MS }) // prettier-ignore
  const { statusCode: status = 0 } = answer
  if (status === 304) {
    answer.resume()
    return null
  }
  if (status < 200 || status >= 300) {
    answer.resume()
    throw new Error(`it answered ${status}`)
  }
  return { body: await textOf(answer), etag: answer.headers.etag ?? null }
}

async function textOf(answer: IncomingMessage): Promise<string> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of answer as AsyncIterable<Buffer>) {
    size += part.length
    if (size > MOST_BYTES) {
      answer.destroy()
      throw new Error('a page has more than 1 MB')
    }
    parts.push(part)
  }
  return Buffer.concat(parts).toString('utf8').replaceAll('\0', '')
}

/** The address of the next page: null where there is none. Throws TypeError for what is none. */
function nextPage(current: string, told: unknown): string | null {
  if (told === null || told === undefined || told === '') return null
  if (typeof told !== 'string') throw new TypeError('the next page is no text')
  return new URL(told, current).href
}
