import { randomUUID } from 'node:crypto'
import {
  beginIntake,
  nextIntake,
  noteLetIn,
  takeDuePeople,
  type DuePerson,
} from '../../backend/intakes/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { findShop, lockCustomers, readClock } from '../../backend/shop/index.ts'
import { grouped } from '../../core/shared/grouped.ts'
import { enterAll, factRequest, type Candidate } from './enter.ts'
import { loadFacts } from './facts/index.ts'
import { liveWorkflows, type LiveWorkflow } from './liveWorkflows.ts'
import type { Programs } from './programs.ts'
import { whoQualifies } from './qualifying.ts'
import { candidateFor, withoutKnown } from './sweepDates.ts'

/**
 * Begins to let in whoever qualifies for a live workflow by the last days. Returns how many stand in line.
 * Throws AppError `conflict` unless the workflow is live.
 */
export async function beginLettingIn(
  db: Database,
  programs: Programs,
  shopId: string,
  workflowId: string,
  { days, perHour, person }: { days: number; perHour: number; person: string },
): Promise<number> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const workflow = await liveWorkflow(tx, programs, shopId, workflowId)
    if (!workflow) throw new AppError('conflict', 'People can be let into live workflows only.')
    const { now } = await readClock(tx, shopId)
    const { people } = await whoQualifies(tx, shop, workflow, { days, now })
    await beginIntake(tx, shopId, { workflowId, person, now, perHour }, people.map(({ waiting }) => waiting)) // prettier-ignore
    return people.length
  })
}

/**
 * Begins to put people into a live workflow for customers, so many an hour: as by hand, with nobody's name typed. Returns how many
 * stand in line. Throws AppError `conflict` unless the workflow is live and about customers.
 */
export async function beginPuttingIn(
  db: Database,
  programs: Programs,
  shopId: string,
  workflowId: string,
  { customerIds, perHour, person }: { customerIds: readonly string[]; perHour: number; person: string },
): Promise<number> {
  return db.transaction(async (tx) => {
    const workflow = await liveWorkflow(tx, programs, shopId, workflowId)
    if (!workflow) throw new AppError('conflict', 'People can be put into live workflows only.')
    if (workflow.program.subject !== 'customer') {
      throw new AppError('conflict', 'This workflow is about more than a customer: say which orders or subscriptions.')
    }
    const { now } = await readClock(tx, shopId)
    const batch = randomUUID()
    const waiting = customerIds.map((customerId, place) => ({
      customerId,
      subjectId: null,
      line: null,
      idempotencyKey: `${BY_HAND}${batch}:${place}`,
      eventSeq: null,
      occasionAt: now,
      date: null,
    }))
    await beginIntake(tx, shopId, { workflowId, person, now, perHour }, waiting)
    return waiting.length
  })
} // prettier-ignore

/** Begins the keys of those whom somebody put in, and whom no occasion brings. */
const BY_HAND = 'hand:'

/** How many are let in by one transaction. */
const BATCH = 200

/**
 * Lets in those whose turn it is, of one workflow, at most a batch; filter, entry rule and exclusions are asked
 * once more, about all that has been since their occasion.
 * Who has come in by themselves meanwhile is passed over. Returns false when it is nobody's turn.
 */
export async function letInDue(db: Database, programs: Programs, shopId: string): Promise<boolean> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const id = await nextIntake(tx, shopId, now)
    // It is locked before anybody is taken out of the line: paused in this very moment, they keep their places.
    const workflow = id === null ? undefined : await liveWorkflow(tx, programs, shopId, id)
    if (!workflow) return false
    const due = await takeDuePeople(tx, shopId, workflow.id, { now, limit: BATCH })
    if (due.length === 0) return false
    await lockCustomers(tx, shopId, due.map(({ customerId }) => customerId)) // prettier-ignore
    for (const [intake, people] of grouped(due, ({ intakeId }) => intakeId)) {
      const candidates = people.map((one) => ({
        ...candidateOf(workflow, one),
        at: one.occasionAt,
        entersAt: now,
      }))
      const unknown = await withoutKnown(tx, shopId, candidates)
      const source = await loadFacts(tx, shop, unknown.map(factRequest), now)
      const fresh = unknown.filter(({ customerId }) => source.has(customerId))
      const counted = await enterAll(tx, shop, now, fresh, source)
      const passed = candidates.length - fresh.length
      await noteLetIn(tx, shopId, intake, { now, entered: counted.entered, turnedAway: counted.turnedAway + passed }) // prettier-ignore
    }
    return true
  })
}

async function liveWorkflow(
  tx: Parameters<typeof liveWorkflows>[0],
  programs: Programs,
  shopId: string,
  workflowId: string,
): Promise<LiveWorkflow | undefined> {
  const [workflow] = await liveWorkflows(tx, programs, shopId, (_program, id) => id === workflowId)
  return workflow
}

function candidateOf(workflow: LiveWorkflow, due: DuePerson): Candidate {
  const { trigger } = workflow.program.definition
  const { customerId, subjectId, line, idempotencyKey, eventSeq, date, person } = due
  if (trigger.kind === 'date' && date !== null) {
    return candidateFor(workflow, trigger, { customerId, subjectId, line, date })
  }
  const byHand = { by: 'hand', person, overridden: false } as const
  const cause = idempotencyKey.startsWith(BY_HAND)
    ? byHand
    : ({ ...byHand, already: true } as const)
  return {
    workflow,
    idempotencyKey,
    at: due.occasionAt,
    cause,
    customerId,
    subjectId,
    line,
    eventSeq,
  }
}
