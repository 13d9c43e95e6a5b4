import type { HandOver } from '../../../backend/platform/handOver.ts'
import { findShop } from '../../../backend/shop/index.ts'
import type { SendDeps } from './context.ts'
import { prepareNext } from './prepare.ts'
import { settle } from './settle.ts'

export type { SendDeps } from './context.ts'

/** What was to be handed over could not be now; it is tried again after a growing pause. */
export class TemporaryDeliveryError extends Error {}

/**
 * Hands over what a run has queued, in the order of its steps. Throws TemporaryDeliveryError when the
 * other side wants to be asked again later; what comes after that waits with it. On the last try it
 * is put aside as failed instead.
 */
export async function sendMessages(
  deps: SendDeps,
  shopId: string,
  runId: number,
  { lastTry = false } = {},
): Promise<void> {
  const shop = await findShop(deps.db, shopId)
  for (;;) {
    const prepared = await deps.db.transaction((tx) => prepareNext(deps, tx, shop, runId))
    if (prepared === 'none') return
    if (prepared === 'passedOver') continue
    const result = givenUp(await prepared.handOver(), lastTry)
    await deps.db.transaction((tx) => settle(tx, shop, prepared, result))
    const again =
      result.kind === 'temporary' || (result.kind === 'unsure' && !prepared.message.marketing)
    if (again) throw new TemporaryDeliveryError(result.error)
  }
}

/** After the last try a temporary failure is one for a person to look at. */
function givenUp(result: HandOver, lastTry: boolean): HandOver {
  if (!lastTry || result.kind !== 'temporary') return result
  return { kind: 'permanent', error: `given up: ${result.error}`, badAddress: false }
}
