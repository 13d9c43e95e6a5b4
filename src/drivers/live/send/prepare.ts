import {
  changeMessage,
  nextQueued,
  RenderError,
  type MessageRow,
} from '../../../backend/messages/index.ts'
import type { Transaction } from '../../../backend/platform/db.ts'
import { lockRun, type KeptRun } from '../../../backend/runs/index.ts'
import { readClock, type Shop } from '../../../backend/shop/index.ts'
import type { Instant } from '../../../core/shared/time.ts'
import type { Instruction, Program } from '../../../core/workflow/compile.ts'
import {
  actionGates,
  gatesFor,
  type ActionGateResult,
  type GateResult,
} from '../../../core/workflow/gates.ts'
import { loadFacts, type LoadedFacts } from '../facts/index.ts'
import { requestOf } from '../moveRuns.ts'
import type { Prepared, SendDeps } from './context.ts'
import type { Ready } from './outgoing.ts'
import { makeReady } from './ready.ts'
import { fail, hold, passOver } from './settle.ts'

/**
 * Asks the gates again with the facts of this moment, renders, and marks the message as being
 * handed over. The mark is committed before the other side hears of it.
 */
export async function prepareNext(
  deps: SendDeps,
  tx: Transaction,
  shop: Shop,
  runId: number,
): Promise<Prepared | 'none' | 'passedOver'> {
  const found = await nextOf(tx, shop.id, runId)
  if (!found) return 'none'
  const { message, run } = found
  const { now } = await readClock(tx, shop.id)
  const program = await deps.programs.get(tx, shop.id, message.workflowId, message.version)
  const instruction = program.instructions.get(message.step)
  const facts = await factsFor(tx, shop, run, program, now)
  const gates = gatesNow(program, instruction, run, message, facts)
  if (gates.kind === 'hold') {
    await hold(tx, shop.id, now, {
      run,
      message,
      until: gates.hold.until,
      why: gates.hold.reason.code,
    })
    return 'passedOver'
  }
  if (gates.kind !== 'pass') {
    await passOver(tx, shop.id, now, { run, message, gates })
    return 'passedOver'
  }
  let ready: Ready
  try {
    ready = await makeReady(deps, tx, { shop, message, run, instruction, facts })
  } catch (error) {
    if (!(error instanceof RenderError)) throw error
    await fail(tx, shop.id, now, { run, message, error: error.message })
    return 'passedOver'
  }
  await changeMessage(tx, message, {
    status: 'handingOver',
    worker: deps.workerId,
    toAddress: ready.to,
    subject: ready.subject,
  })
  return { message, run, to: ready.to, handOver: ready.handOver }
}

/**
 * The gates at the moment of handing over, with the facts of this moment but for what the run itself
 * did after it had decided: its messages and marks. The message gap and the caps were kept when it was decided.
 */
function gatesNow(
  program: Program,
  instruction: Instruction | undefined,
  run: KeptRun,
  message: MessageRow,
  facts: LoadedFacts,
): GateResult | ActionGateResult {
  const { enteredAt } = run
  const then = {
    ...facts,
    shop: { ...facts.shop, messageGap: null, caps: [] },
    customer: { ...facts.customer, ...message.marks },
    messages: facts.messages.filter(({ id }) => id !== undefined && id < message.id),
  }
  if (instruction?.kind !== 'message') return actionGates(program, { facts: then, enteredAt })
  const { decidedAt: since, hours } = message
  const moment = { enteredAt, since, skipNext: false, skipBefore: null, hours }
  return gatesFor(program, instruction, moment, then)
}

/** The next message of a run with the run, both locked; null where there is none to hand over now. */
export async function nextOf(
  tx: Transaction,
  shopId: string,
  runId: number,
): Promise<{ message: MessageRow; run: KeptRun } | null> {
  const message = await nextQueued(tx, shopId, runId)
  const run = message && (await lockRun(tx, shopId, runId))
  return run ? { message, run } : null
}

async function factsFor(
  tx: Transaction,
  shop: Shop,
  run: KeptRun,
  program: Program,
  now: Instant,
): Promise<LoadedFacts> {
  const request = requestOf(run, program)
  const source = await loadFacts(tx, shop, [request], now, { coupons: true })
  return source.of(request)
}
