import { changeMessage, skipRest, type MessageRow } from '../../../backend/messages/index.ts'
import type { Transaction } from '../../../backend/platform/db.ts'
import type { HandOver } from '../../../backend/platform/handOver.ts'
import { appendLedger, endRun, type RunRef } from '../../../backend/runs/index.ts'
import { noteDeadAddresses, readClock, type Shop } from '../../../backend/shop/index.ts'
import { assertNever } from '../../../core/shared/assertNever.ts'
import type { Instant } from '../../../core/shared/time.ts'
import type { WaitReason } from '../../../core/workflow/decision.ts'
import type { GateResult } from '../../../core/workflow/gates.ts'
import type { LedgerEntry } from '../../../core/workflow/ledgerEntry.ts'
import type { Prepared } from './context.ts'
import { tell } from '../watched.ts'

interface Sending {
  message: MessageRow
  run: RunRef
}

/** Writes down what came of handing a message over. */
export async function settle(
  tx: Transaction,
  shop: Shop,
  { message, run, to }: Prepared,
  result: HandOver,
): Promise<void> {
  const { now } = await readClock(tx, shop.id)
  const { step } = message
  switch (result.kind) {
    case 'sent':
      await changeMessage(tx, message, { status: 'sent', at: now })
      return note(tx, shop.id, now, run, { kind: 'sent', step, to })
    case 'temporary': {
      await changeMessage(tx, message, { status: 'queued', error: result.error })
      const attempt = message.attempts + 1
      return note(tx, shop.id, now, run, { kind: 'retries', step, error: result.error, attempt })
    }
    case 'permanent':
      if (result.badAddress && message.channel === 'email') {
        await noteDeadAddresses(tx, shop.id, [to], now)
      }
      return fail(tx, shop.id, now, { run, message, error: result.error })
    case 'unsure':
      return settleUnsure(tx, shop.id, now, { message, run, error: result.error })
    default:
      return assertNever(result, 'hand-over')
  }
}

/**
 * A message that may or may not have arrived. Transactional ones go again under the same
 * Message-ID; marketing ones wait for a person, since two are worse than none.
 */
export async function settleUnsure(
  tx: Transaction,
  shopId: string,
  now: Instant,
  { message, run, error }: Sending & { error: string },
): Promise<void> {
  const { marketing, step } = message
  await changeMessage(tx, message, { status: marketing ? 'unsure' : 'queued', error })
  await note(tx, shopId, now, run, { kind: 'unsure', step, resent: !marketing })
}

/** Puts a message aside for a person to look at. */
export async function fail(
  tx: Transaction,
  shopId: string,
  now: Instant,
  { message, run, error }: Sending & { error: string },
): Promise<void> {
  await changeMessage(tx, message, { status: 'failed', error })
  await note(tx, shopId, now, run, { kind: 'failed', step: message.step, error })
}

/** Keeps a message back until quiet hours end, or the quiet that was asked for; then the gates are all asked again. */
export async function hold(
  tx: Transaction,
  shopId: string,
  now: Instant,
  { message, run, until, why }: Sending & { until: Instant; why: WaitReason['code'] },
): Promise<void> {
  await changeMessage(tx, message, { status: 'held', until })
  const asked = why === 'quiet' ? { asked: true as const } : {}
  await note(tx, shopId, now, run, { kind: 'held', step: message.step, until, ...asked })
}

/** Passes over a message that a gate has closed for in the meantime; an exclusion may end the run. */
export async function passOver(
  tx: Transaction,
  shopId: string,
  now: Instant,
  { message, run, gates }: Sending & { gates: Extract<GateResult, { kind: 'skip' | 'leave' }> },
): Promise<void> {
  const { step } = message
  await changeMessage(tx, message, { status: 'skipped' })
  if (gates.kind === 'skip') {
    const { reason, before } = gates
    tell('passedOver', { reason: reason.code })
    return note(tx, shopId, now, run, { kind: 'skipped', step, reason, before })
  }
  const { exclusion, observed, before } = gates.held
  await endRun(tx, shopId, run.id)
  // What the run had queued behind this one does not go either.
  await skipRest(tx, shopId, [run.id])
  await note(tx, shopId, now, run, {
    kind: 'left',
    step,
    exclusion: exclusion.key,
    observed,
    before,
  })
}

/** Adds one entry about a run to the ledger. */
export async function note(
  tx: Transaction,
  shopId: string,
  at: Instant,
  run: RunRef,
  entry: LedgerEntry,
): Promise<void> {
  const { id, workflowId, version, customerId, subjectId } = run
  await appendLedger(tx, shopId, at, [
    { workflowId, version, runId: id, customerId, subjectId, entry },
  ])
}
