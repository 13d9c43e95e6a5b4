import type { Instant } from '../shared/time.ts'
import type { Definition } from '../workflow/definition.ts'
import type { LedgerEntry } from '../workflow/ledgerEntry.ts'
import { allSteps, CAME } from '../workflow/lists.ts'
import { isMessage } from '../workflow/steps.ts'
import type { Rehearsed, RehearsedEntry } from './rehearse.ts'

export type StopKind = 'sent' | 'held' | 'skipped' | 'left' | 'done'

/** What became of somebody at a stop. */
export interface StopOutcome {
  at: Instant
  kind: StopKind
  entry: LedgerEntry
}

const KINDS: Partial<Record<LedgerEntry['kind'], StopKind>> = {
  sends: 'sent',
  skipped: 'skipped',
  left: 'left',
  issues: 'done',
  marks: 'done',
  calls: 'done',
}

/** What became of them at each stop the first time they came in, by its key; stops that are missing were not reached. */
export function stopsOf(definition: Definition, { entries }: Rehearsed): Map<string, StopOutcome> {
  const messages = new Set(allSteps(definition.steps).filter(isMessage).map(({ key }) => key)) // prettier-ignore
  const stops = new Map<string, StopOutcome>()
  for (const { at, entry } of firstRun(entries)) {
    if (!('step' in entry) || entry.step === null) continue
    const isHeld = entry.kind === 'waits' && messages.has(entry.step)
    const kind = isHeld ? 'held' : KINDS[entry.kind]
    if (kind) stops.set(entry.step, { at, kind, entry })
  }
  return stops
}

/** Which paths and arms they took the first time they came in: the last path of a branching step has no branch. */
export function waysOf({ entries }: Rehearsed): { step: string; branch: string | null }[] {
  return firstRun(entries).flatMap(({ entry }) => {
    if (entry.kind === 'tookBranch') return { step: entry.step, branch: entry.branch }
    if (entry.kind === 'tookArm') return { step: entry.step, branch: entry.arm }
    if (entry.kind === 'came') return { step: entry.step, branch: entry.cameAt === null ? null : CAME } // prettier-ignore
    return []
  })
}

/** When they got which message, however often they came in. */
export function messagesOf({ entries }: Rehearsed): { at: Instant; step: string }[] {
  return entries.flatMap(({ at, entry }) => (entry.kind === 'sends' ? { at, step: entry.step } : [])) // prettier-ignore
}

const firstRun = (entries: readonly RehearsedEntry[]): RehearsedEntry[] =>
  entries.filter(({ run }) => run === 0)
