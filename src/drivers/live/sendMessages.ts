import { and, asc, eq, inArray } from 'drizzle-orm'
import { messages } from '../../backend/messages/tables.ts'
import {
  renderEmail,
  RenderError,
  suppressBounced,
  unsubscribeToken,
  type HandOver,
  type Mailer,
  type OutgoingMail,
} from '../../backend/messages/index.ts'
import type { Database, Transaction } from '../../backend/platform/db.ts'
import { runs } from '../../backend/runs/tables.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { assertNever } from '../../core/shared/assertNever.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Program } from '../../core/workflow/compile.ts'
import { gatesFor } from '../../core/workflow/gates.ts'
import type { LedgerEntry } from '../../core/words/decisions.ts'
import { loadFacts } from './loadFacts.ts'
import type { Programs } from './programs.ts'
import { appendLedger } from './record.ts'

export interface SendDeps {
  db: Database
  programs: Programs
  mailer: Mailer
  /** The worker that hands over, so that what it leaves half done can be told if it dies. */
  workerId: string
  publicUrl: string
  linkSecret: string
}

/** The mail server could not take a message now; the queue tries again after a growing pause. */
export class TemporaryDeliveryError extends Error {}

type MessageRow = typeof messages.$inferSelect
type RunRow = typeof runs.$inferSelect

interface Prepared {
  message: MessageRow
  run: RunRow
  mail: OutgoingMail
  marketing: boolean
}

/**
 * Hands over what a run has queued, in the order of its steps. Throws TemporaryDeliveryError when
 * the server wants to be asked again later; the messages after that one wait with it. On the last
 * try such a message is put aside as failed instead.
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
    const result = givenUp(await deps.mailer.send(prepared.mail), lastTry)
    await deps.db.transaction((tx) => settle(tx, shop, prepared, result))
    const again = result.kind === 'temporary' || (result.kind === 'unsure' && !prepared.marketing)
    if (again) throw new TemporaryDeliveryError(result.error)
  }
}

/** After the last try a temporary failure is one for a person to look at. */
function givenUp(result: HandOver, lastTry: boolean): HandOver {
  if (!lastTry || result.kind !== 'temporary') return result
  return { kind: 'permanent', error: `given up: ${result.error}`, badAddress: false }
}

/**
 * Asks the gates again with the facts of this moment, renders, and marks the message as being
 * handed over. The mark is committed before the mail server hears of it.
 */
async function prepareNext(
  deps: SendDeps,
  tx: Transaction,
  shop: Shop,
  runId: number,
): Promise<Prepared | 'none' | 'passedOver'> {
  const found = await nextQueued(tx, shop.id, runId)
  if (!found) return 'none'
  const { message, run } = found
  const { now } = await readClock(tx, shop.id)
  const program = await deps.programs.get(tx, shop.id, message.workflowId, message.version)
  const instruction = program.instructions.get(message.step)
  if (instruction?.kind !== 'email') throw new RangeError(`No message at step ${message.step}`)
  const facts = await factsFor(tx, shop, run, program, now)
  const gates = gatesFor(program, instruction, { facts, enteredAt: run.enteredAt })
  if (gates.kind !== 'pass') {
    const entry: LedgerEntry =
      gates.kind === 'leave'
        ? { kind: 'left', step: message.step, exclusion: gates.exclusion, observed: gates.observed }
        : { kind: 'skipped', step: message.step, reason: gates.reason }
    await passOver(tx, shop.id, now, run, message, entry)
    return 'passedOver'
  }
  const marketing = instruction.step.purpose === 'marketing'
  const unsubscribeUrl = marketing ? unsubscribeLink(deps, shop.id, run.customerId) : null
  try {
    const rendered = renderEmail(instruction.step, facts, unsubscribeUrl)
    const { sender, replyTo } = instruction.step
    const to = facts.customer.email ?? ''
    const mail: OutgoingMail = {
      ...rendered,
      messageId: message.messageId,
      date: now,
      from: sender,
      replyTo: replyTo ?? null,
      to,
      unsubscribeUrl,
    }
    await tx
      .update(messages)
      .set({
        status: 'handingOver',
        worker: deps.workerId,
        toAddress: to,
        subject: rendered.subject,
        attempts: message.attempts + 1,
      })
      .where(byId(message))
    return { message, run, mail, marketing }
  } catch (error) {
    if (!(error instanceof RenderError)) throw error
    await fail(tx, shop.id, now, run, message, error.message)
    return 'passedOver'
  }
}

/** The first message of the run that has not left. None while one before it is under way. */
async function nextQueued(
  tx: Transaction,
  shopId: string,
  runId: number,
): Promise<{ message: MessageRow; run: RunRow } | null> {
  const [message] = await tx
    .select()
    .from(messages)
    .where(
      and(
        eq(messages.shopId, shopId),
        eq(messages.runId, runId),
        inArray(messages.status, ['queued', 'handingOver']),
      ),
    )
    .orderBy(asc(messages.id))
    .limit(1)
    .for('update')
  if (message?.status !== 'queued') return null
  const [run] = await tx
    .select()
    .from(runs)
    .where(and(eq(runs.shopId, shopId), eq(runs.id, runId)))
    .for('update')
  return run ? { message, run } : null
}

async function factsFor(tx: Transaction, shop: Shop, run: RunRow, program: Program, now: Instant) {
  const source = await loadFacts(tx, shop, [{ ...run, counts: program.counts }], now)
  return source(run)
}

function unsubscribeLink(deps: SendDeps, shopId: string, customerId: string): string {
  return `${deps.publicUrl}/u/${unsubscribeToken(deps.linkSecret, { shopId, customerId })}`
}

async function settle(
  tx: Transaction,
  shop: Shop,
  { message, run, mail, marketing }: Prepared,
  result: HandOver,
): Promise<void> {
  const { now } = await readClock(tx, shop.id)
  const { step } = message
  switch (result.kind) {
    case 'sent':
      await tx
        .update(messages)
        .set({ status: 'sent', worker: null, sentAt: now, lastError: null })
        .where(byId(message))
      return note(tx, shop.id, now, run, { kind: 'sent', step, to: mail.to })
    case 'temporary':
      await tx
        .update(messages)
        .set({ status: 'queued', worker: null, lastError: result.error })
        .where(byId(message))
      return note(tx, shop.id, now, run, {
        kind: 'retries',
        step,
        error: result.error,
        attempt: message.attempts + 1,
      })
    case 'permanent':
      if (result.badAddress) await suppressBounced(tx, shop.id, run.customerId)
      return fail(tx, shop.id, now, run, message, result.error)
    case 'unsure':
      return settleUnsure(tx, shop.id, now, { message, run, marketing, error: result.error })
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
  {
    message,
    run,
    marketing,
    error,
  }: { message: MessageRow; run: RunRow; marketing: boolean; error: string },
): Promise<void> {
  await tx
    .update(messages)
    .set({ status: marketing ? 'unsure' : 'queued', worker: null, lastError: error })
    .where(byId(message))
  await note(tx, shopId, now, run, { kind: 'unsure', step: message.step, resent: !marketing })
}

async function fail(
  tx: Transaction,
  shopId: string,
  now: Instant,
  run: RunRow,
  message: MessageRow,
  error: string,
): Promise<void> {
  await tx
    .update(messages)
    .set({ status: 'failed', worker: null, lastError: error })
    .where(byId(message))
  await note(tx, shopId, now, run, { kind: 'failed', step: message.step, error })
}

async function passOver(
  tx: Transaction,
  shopId: string,
  now: Instant,
  run: RunRow,
  message: MessageRow,
  entry: LedgerEntry,
): Promise<void> {
  await tx.update(messages).set({ status: 'skipped' }).where(byId(message))
  if (entry.kind === 'left') {
    await tx
      .update(runs)
      .set({ status: 'ended', step: null, dueAt: null, heldDueAt: null, outcome: 'left' })
      .where(and(eq(runs.shopId, shopId), eq(runs.id, run.id)))
    // What the run had queued behind this one does not go either.
    await tx
      .update(messages)
      .set({ status: 'skipped' })
      .where(
        and(eq(messages.shopId, shopId), eq(messages.runId, run.id), eq(messages.status, 'queued')),
      )
  }
  await note(tx, shopId, now, run, entry)
}

async function note(
  tx: Transaction,
  shopId: string,
  at: Instant,
  run: RunRow,
  entry: LedgerEntry,
): Promise<void> {
  const { workflowId, version, customerId, orderId } = run
  await appendLedger(tx, shopId, at, [
    { workflowId, version, runId: run.id, customerId, orderId, entry },
  ])
}

const byId = (message: MessageRow) =>
  and(eq(messages.shopId, message.shopId), eq(messages.id, message.id))
