import type { Database } from '../platform/db.ts'
import { ingestEvents } from '../shop/index.ts'
import type { Evaluator } from './evaluate.ts'
import { mapBody } from './mapped.ts'
import { isSigned, type Headers } from './signature.ts'
import { keepBody, noteOutcome, refusedBodies, type Connection, type KeptBody } from './store.ts'
import type { BodyOutcome } from './tables.ts'

/** What came of a body that arrived. */
export type Received = Pick<KeptBody, 'state' | 'outcome'>

const NOTHING: BodyOutcome = { events: 0, fresh: 0, problems: [] }

/**
 * Takes in what arrives by a connection: its signature is looked at, then it is kept as it is, then mapped and taken in. What
 * cannot be mapped is kept for when the mapping is mended.
 */
export async function receive(
  db: Database,
  evaluator: Evaluator,
  connection: Connection,
  { body, headers }: { body: string; headers: Headers },
): Promise<Received> {
  if (!isSigned(connection.signature, headers, body)) {
    const outcome = {
      ...NOTHING,
      problems: [{ path: 'signature', message: 'is missing or wrong' }],
    }
    await keepBody(db, connection, { body: '', state: 'unsigned', outcome })
    return { state: 'unsigned', outcome }
  }
  return takeBody(db, evaluator, connection, body)
}

/** Keeps a body as it is, then has it mapped and taken in. */
export async function takeBody(
  db: Database,
  evaluator: Evaluator,
  connection: Connection,
  body: string,
): Promise<Received> {
  const waiting = { ...NOTHING, problems: [{ path: 'mapping', message: 'has not been asked yet' }] }
  const id = await keepBody(db, connection, { body, state: 'refused', outcome: waiting })
  return take(db, evaluator, connection, { id, body })
}

async function take(
  db: Database,
  evaluator: Evaluator,
  { shopId, id: connectionId, mapping }: Connection,
  { id, body }: { id: number; body: string },
): Promise<Received> {
  const { events, problems } = await mapBody(evaluator, { connectionId, mapping, body })
  const receipts = events.length === 0 ? [] : await ingestEvents(db, shopId, events)
  const refused = receipts.flatMap((one) => one.status === 'refused' ? one.problems.map(({ path, message }) => ({ path: `${one.index}.${path}`, message })) : [])
  const outcome = {
    events: events.length,
    fresh: receipts.filter(({ status }) => status === 'accepted').length,
    problems: [...problems, ...refused],
  }
  const state = outcome.problems.length === 0 ? 'taken' : 'refused'
  await noteOutcome(db, shopId, id, { state, outcome })
  return { state, outcome }
} // prettier-ignore

/** Has everything that was refused mapped once more, in the order in which it came. What was taken in before stays as it is. */
export async function replayRefused(
  db: Database,
  evaluator: Evaluator,
  connection: Connection,
): Promise<{ taken: number; refused: number }> {
  const counts = { taken: 0, refused: 0 }
  for (const one of await refusedBodies(db, connection.shopId, connection.id)) {
    const { state } = await take(db, evaluator, connection, one)
    counts[state === 'taken' ? 'taken' : 'refused'] += 1
  }
  return counts
}

/** What a mapping would make of a body, and whether it could be taken in. Nothing is kept. */
export async function tryMapping(
  evaluator: Evaluator,
  { connectionId, mapping, body }: { connectionId: string; mapping: string; body: string },
  problemsOf: (event: object) => { path: string; message: string }[],
): Promise<{ events: object[]; problems: { path: string; message: string }[] }> {
  const { events, problems } = await mapBody(evaluator, { connectionId, mapping, body })
  const wrong = events.flatMap((event, index) => problemsOf(event).map(({ path, message }) => ({ path: `${index}.${path}`, message }))) // prettier-ignore
  return { events, problems: [...problems, ...wrong] }
}
