import type { Transaction } from '../../../backend/platform/db.ts'
import { toError } from '../../../backend/platform/errors.ts'
import { findShop, readClock } from '../../../backend/shop/index.ts'
import type { SendDeps } from './context.ts'
import { tell } from '../watched.ts'
import { nextOf, prepareNext } from './prepare.ts'
import { fail, settle } from './settle.ts'

export type { SendDeps } from './context.ts'

/** What was to be handed over could not be now; it is tried again after a growing pause. */
export class TemporaryDeliveryError extends Error {}

/**
 * Hands over what a run has queued, in the order of its steps. Throws TemporaryDeliveryError when the
 * other side wants to be asked again later; what comes after that waits with it.
 */
export async function sendMessages(deps: SendDeps, shopId: string, runId: number): Promise<void> {
  const shop = await findShop(deps.db, shopId)
  for (;;) {
    const prepared = await deps.db.transaction((tx) => prepareNext(deps, tx, shop, runId))
    if (prepared === 'none') return
    if (prepared === 'passedOver') continue
    const result = await prepared.handOver()
    tell('handedOver', { channel: prepared.message.channel, result: result.kind })
    await deps.db.transaction((tx) => settle(tx, shop, prepared, result))
    const again =
      result.kind === 'temporary' || (result.kind === 'unsure' && !prepared.message.marketing)
    if (again) throw new TemporaryDeliveryError(result.error)
  }
}

/**
 * The same for the last time: a message that still does not leave, for whatever reason, is put aside
 * for a person, and those behind it go on.
 */
export async function sendOrGiveUp(deps: SendDeps, shopId: string, runId: number): Promise<void> {
  for (;;) {
    try {
      return await sendMessages(deps, shopId, runId)
    } catch (error) {
      const reason = `given up: ${toError(error).message}`
      const putAside = await deps.db.transaction((tx) => giveUp(tx, shopId, runId, reason))
      if (!putAside) throw error
    }
  }
}

/** Puts the first queued message of a run aside. False when there is none. */
async function giveUp(
  tx: Transaction,
  shopId: string,
  runId: number,
  error: string,
): Promise<boolean> {
  const found = await nextOf(tx, shopId, runId)
  if (!found) return false
  const { now } = await readClock(tx, shopId)
  await fail(tx, shopId, now, { ...found, error })
  return true
}
