import { sql } from 'drizzle-orm'
import type { FastifyReply, FastifyRequest } from 'fastify'
import { findFigures, keepFigures, keepsFigures } from '../backend/figures/index.ts'
import type { Db } from '../backend/platform/db.ts'
import type { Asker } from '../backend/platform/reading.ts'
import { readClock } from '../backend/shop/index.ts'
import { AS_OF_HEADER } from '../contract/figures.ts'
import { MINUTE_MS } from '../core/shared/duration.ts'
import type { Instant } from '../core/shared/time.ts'
import { askerOf } from './asker.ts'
import type { ServerContext } from './context.ts'

/** Of a shop that is found to be large it is not asked again. */
const large = new WeakMap<object, Set<string>>()
/** What is being counted behind an answer, by shop and key. */
const counting = new WeakMap<object, Set<string>>()

/** What is kept may take longer to be counted than what somebody waits for each time: or it would never be there. */
const LONGEST_MS = 5 * MINUTE_MS

/** Nobody waits for it, so nobody goes away. */
const NOBODY: Asker = { onGone: () => undefined }

interface Wanted<Data> {
  /** Which figures, with all that they hang on. */
  key: string
  count: (tx: Db, now: Instant) => Promise<Data>
  /** It keeps roll-ups of its own. */
  writes?: boolean
}

/**
 * Figures over a whole shop: counted for who asks, or, of a large shop, as they are kept; then the answer names the moment they
 * are of, and old ones are counted anew behind it.
 */
export async function figures<Data>(
  context: ServerContext,
  { user: { shopId }, log }: Pick<FastifyRequest, 'user' | 'log'>,
  reply: FastifyReply,
  { key, count, writes = false }: Wanted<Data>,
): Promise<Data> {
  const { db, reading } = context
  const { now } = await readClock(db, shopId)
  const countAll = (asker: Asker, longestMs?: number) =>
    reading[writes ? 'runAndKeep' : 'run'](asker, async (tx) => {
      if (longestMs !== undefined) await tx.execute(sql.raw(`set local statement_timeout = ${longestMs}`)) // prettier-ignore
      return count(tx, now)
    })
  if (!(await isLarge(context, shopId))) return countAll(askerOf(reply))
  const countAndKeep = async (asker: Asker): Promise<Data> => {
    const began = performance.now()
    const data = await countAll(asker, LONGEST_MS)
    await keepFigures(db, shopId, key, { data, asOf: now, tookMs: performance.now() - began })
    return data
  }
  const kept = await findFigures<Data>(db, shopId, key, now)
  if (kept === null) return countAndKeep(askerOf(reply))
  reply.header(AS_OF_HEADER, String(kept.asOf))
  if (kept.isOld) behind(context, `${shopId} ${key}`, () => countAndKeep(NOBODY), log)
  return kept.data
}

async function isLarge({ db }: ServerContext, shopId: string): Promise<boolean> {
  const known = setOf(large, db)
  if (known.has(shopId)) return true
  const isSo = await keepsFigures(db, shopId)
  if (isSo) known.add(shopId)
  return isSo
}

/** Does it once at a time, with nobody waiting. */
function behind(
  { db }: ServerContext,
  name: string,
  work: () => Promise<unknown>,
  log: FastifyRequest['log'],
): void {
  const running = setOf(counting, db)
  if (running.has(name)) return
  running.add(name)
  void work()
    .catch((error: unknown) => log.error({ err: error }, 'figures were not counted anew'))
    .finally(() => running.delete(name))
}

function setOf(map: WeakMap<object, Set<string>>, of: object): Set<string> {
  const found = map.get(of) ?? new Set()
  map.set(of, found)
  return found
}
