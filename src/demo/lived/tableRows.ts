import { customerIdOf, subjectIdOf } from '../../core/events/cloudEvent.ts'
import type { LivedEntry, LivedRun } from '../../core/life/lived.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { DemoEvent } from '../demoEvent.ts'
import type { Row } from './copy.ts'
import type { LivedCoupon, LivedMessage } from './rows.ts'

/** What was before the workflows came with the shop when it joined; the rest came in as it happened. */
export function eventRow(seq: number, { at, event }: DemoEvent, joinedAt: Instant): Row {
  return {
    seq,
    source: event.source,
    event_id: event.id,
    type: event.type,
    time: at,
    received_at: Math.max(at, joinedAt),
    customer_id: customerIdOf(event.data),
    subject_id: subjectIdOf(event.data),
    data: event.data,
    considered: true,
  }
}

/** A run as it stands at the end; `seq` is the number of the event that started it. */
export function runRow(
  id: number,
  { workflow, customerId, subjectId, line, dateKey, state, outcome }: LivedRun,
  seq: number | null | undefined,
): Row {
  const perLine = line === null ? '' : `:${line}`
  return {
    id,
    workflow_id: workflow.id,
    version: workflow.version,
    customer_id: customerId,
    subject_id: subjectId,
    line,
    idempotency_key: dateKey ?? `event:${seq}${perLine}`,
    event_seq: seq ?? null,
    entered_at: state.enteredAt,
    status: state.status,
    step: state.step,
    since: state.since,
    due_at: state.dueAt,
    parked_until: state.dueAt,
    awaits: state.awaits,
    skip_next: state.skipNext,
    skip_before: state.skipBefore,
    hours: state.hours,
    owed: state.owed,
    moved: false,
    outcome,
  }
}

/** An entry of the ledger. */
export function entryRow(
  id: number,
  { at, workflow, run, customerId, subjectId, entry }: LivedEntry,
  idOf: (run: LivedRun) => number,
): Row {
  return {
    id,
    at,
    workflow_id: workflow.id,
    version: workflow.version,
    run_id: run && idOf(run),
    customer_id: customerId,
    subject_id: subjectId,
    kind: entry.kind,
    entry,
  }
}

/** A message that left, or failed. */
export function messageRow(
  number: number,
  { run, step, channel, marketing, to, at, failed, openedAt, clickedAt }: LivedMessage,
  { id, name }: { id: number; name: string },
): Row {
  return {
    id: number,
    run_id: id,
    workflow_id: run.workflow.id,
    version: run.workflow.version,
    step,
    customer_id: run.customerId,
    channel,
    marketing,
    status: failed ? 'failed' : 'sent',
    message_id: name,
    to_address: to,
    decided_at: at,
    sent_at: failed ? null : at,
    attempts: 1,
    last_error: failed ? '550 5.1.1 no such mailbox' : null,
    opened_at: openedAt,
    clicked_at: clickedAt,
  }
}

/** A code that was issued. */
export function couponRow({ run, step, code, at, expiresAt }: LivedCoupon, id: number): Row {
  const { minimum, categories, maxUses, pattern } = step
  const shared = !pattern.includes('#')
  return {
    code,
    run_id: id,
    workflow_id: run.workflow.id,
    step: step.key,
    customer_id: run.customerId,
    discount: step.discount,
    terms: {
      ...(minimum && { minimum }),
      ...(categories && { categories }),
      maxUses: maxUses ?? (shared ? null : 1),
    },
    shared,
    issued_at: at,
    expires_at: expiresAt,
  }
}
