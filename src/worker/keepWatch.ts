import { randomUUID } from 'node:crypto'
import { setTimeout as pause } from 'node:timers/promises'
import { listUsers } from '../backend/accounts/index.ts'
import type { Mailer } from '../backend/messages/index.ts'
import type { Database } from '../backend/platform/db.ts'
import { toError } from '../backend/platform/errors.ts'
import type { Log } from '../backend/platform/log.ts'
import { realNow } from '../backend/platform/realTime.ts'
import { findShop, readClock } from '../backend/shop/index.ts'
import { claimRound, noteTold, untoldAlerts, watchShop } from '../backend/watch/index.ts'

/** How often it is asked whose turn it is; each shop's comes every five minutes. */
const EVERY_MS = 30_000
const A_BREATH_MS = 500

interface Watching {
  db: Database
  mailer: Mailer
  publicUrl: string
}

/** Looks at every shop now and then, and writes to its owners of what they would not see by themselves. Goes on until stopped. */
export function startWatching(watching: Watching, log: Log): () => Promise<void> {
  const stopping = new AbortController()
  const { signal } = stopping
  const run = async (): Promise<void> => {
    for (;;) {
      const shops = await claimRound(watching.db, 'watch').catch((error: unknown) => {
        log.error({ err: toError(error) }, 'shops could not be watched; it is tried again')
        return []
      })
      for (const shopId of shops) {
        if (signal.aborted) return
        await look(watching, shopId).catch((error: unknown) => {
          log.error({ err: toError(error) }, 'a shop could not be watched; it is tried again')
        })
      }
      // A little at a time, so that many shops are no burden at any one moment.
      await pause(shops.length === 0 ? EVERY_MS : A_BREATH_MS, undefined, { signal })
    }
  }
  const running = run().catch((error: unknown) => {
    if (!signal.aborted) log.error({ err: toError(error) }, 'watching has ended')
  })
  return async () => {
    stopping.abort()
    await running
  }
}

async function look(watching: Watching, shopId: string): Promise<void> {
  await watchShop(watching.db, shopId)
  // Whose clock is moved by hand is being tried out: the page says what there is, and nobody is written to.
  const { movedByHand } = await readClock(watching.db, shopId)
  if (!movedByHand) await tellOwners(watching, shopId)
}

/**
 * Writes to the owners of a shop of what they were not told of: once for each, in one mail. Where the mail server does not take it,
 * it is tried again the next time.
 */
export async function tellOwners({ db, mailer, publicUrl }: Watching, shopId: string): Promise<void> {
  const untold = await untoldAlerts(db, shopId)
  if (untold.length === 0) return
  const shop = await findShop(db, shopId)
  const owners = (await listUsers(db, shopId)).filter(({ role, isInvited }) => role === 'owner' && !isInvited)
  if (owners.length === 0) return
  const lines = untold.map(({ says, goesTo }) => `${says}\n${publicUrl}${goesTo}\n`)
  const sent = await mailer.send({
    messageId: `<alert.${randomUUID()}@yomble.invalid>`,
    date: realNow(),
    from: shop.defaultSender,
    replyTo: null,
    to: owners.map(({ email }) => email),
    copies: [],
    subject: untold.length === 1 ? `${shop.name}: something needs a look` : `${shop.name}: ${untold.length} things need a look`,
    text: `${lines.join('\n')}\nYou are told of each once, for as long as it lasts. How things stand: ${publicUrl}/settings/status\n`,
    html: null,
    unsubscribeUrl: null,
  })
  if (sent.kind === 'sent') await noteTold(db, untold)
} // prettier-ignore
