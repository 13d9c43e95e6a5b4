import type { Needs } from '../../../core/conditions/needs.ts'
import type { SubjectKind } from '../../../core/events/eventTypes.ts'
import type { PastEvent, PastMessage } from '../../../core/events/facts.ts'

/** What one run, or one that may start, is about, and what its program asks for. */
export interface FactRequest {
  customerId: string
  workflowId: string
  /** Null for a run that may start. */
  runId: number | null
  subjectKind: SubjectKind
  subjectId: string | null
  /** The position of the order's line, for runs per line. */
  line: number | null
  /** The event that brought the product a run is about; only for events about one. */
  eventSeq: number | null
  needs: Needs
}

/** An event of the past with its place in the order of arrival. */
export interface ArrivedEvent extends PastEvent {
  seq: number
}

/** A message of the past, with its place among all; missing for one that the batch has just decided on. */
export interface KeptMessage extends PastMessage {
  id?: number
}
