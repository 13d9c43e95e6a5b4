import type { WorkflowNumbersResponse } from '../../contract/workflows.ts'
import type { Decision } from '../../core/workflow/decision.ts'
import { CAME } from '../../core/workflow/lists.ts'
import type { Lived } from '../../core/workflow/simulate.ts'

type StepNumbers = WorkflowNumbersResponse['steps'][number]

/** What a workflow would have done, counted as what it did is counted. Each of the lives stands for `oneIn`. */
export function replayNumbers(lives: readonly Lived[], oneIn = 1): WorkflowNumbersResponse {
  const { total, steps, branches, exclusions, ...rest } = counted(lives)
  return {
    ...rest,
    total: times(total, oneIn),
    steps: steps.map((one) => times(one, oneIn)),
    branches: branches.map((one) => times(one, oneIn)),
    exclusions: exclusions.map((one) => times(one, oneIn)),
  }
}

/** All counts of a row so many times. */
function times<Row extends object>(row: Row, factor: number): Row {
  const entries = Object.entries(row).map(([key, value]: [string, unknown]) => [key, typeof value === 'number' ? value * factor : value]) // prettier-ignore
  return Object.fromEntries(entries) as Row
}

function counted(lives: readonly Lived[]): WorkflowNumbersResponse {
  const decisions = lives.flatMap(({ decided }) => decided.map(({ decision }) => decision))
  const waiting = lives
    .flatMap(({ runs }) => runs)
    .flatMap(({ status, step }) => (status === 'inProgress' ? [step] : []))
  const steps = stepNumbers(decisions, waiting)
  const sum = (key: 'sent' | 'skipped' | 'left') => steps.reduce((all, one) => all + one[key], 0)
  const ofKind = (kind: Decision['kind']) => decisions.filter((one) => one.kind === kind).length
  return {
    total: {
      inProgress: waiting.length,
      entered: ofKind('entered'),
      turnedAway: ofKind('turnedAway'),
      sent: sum('sent'),
      skipped: sum('skipped'),
      left: sum('left'),
      needAttention: 0,
      nextDueAt: null,
    },
    steps,
    branches: branchNumbers(decisions),
    // Nobody knows what a message that was never sent would have earned.
    earned: { steps: [], branches: [] },
    exclusions: exclusionNumbers(decisions),
    onOlderVersions: 0,
  }
}

const COUNTED_AS: Partial<Record<Decision['kind'], 'sent' | 'skipped' | 'left' | 'done'>> = {
  sends: 'sent',
  skipped: 'skipped',
  left: 'left',
  issues: 'done',
  marks: 'done',
  calls: 'done',
}

function stepNumbers(
  decisions: readonly Decision[],
  waiting: readonly (string | null)[],
): StepNumbers[] {
  const steps = new Map<string, StepNumbers>()
  const at = (step: string): StepNumbers => {
    const known = steps.get(step) ?? { step, waiting: 0, sent: 0, skipped: 0, left: 0, failed: 0, done: 0 } // prettier-ignore
    steps.set(step, known)
    return known
  }
  for (const decision of decisions) {
    const key = COUNTED_AS[decision.kind]
    if (key && 'step' in decision && decision.step !== null) at(decision.step)[key] += 1
  }
  for (const step of waiting) if (step !== null) at(step).waiting += 1
  return [...steps.values()]
}

function branchNumbers(decisions: readonly Decision[]): WorkflowNumbersResponse['branches'] {
  const ways = new Map<string, WorkflowNumbersResponse['branches'][number]>()
  for (const decision of decisions) {
    const way = wayOf(decision)
    if (!way) continue
    const key = JSON.stringify(way)
    const known = ways.get(key) ?? { ...way, taken: 0 }
    known.taken += 1
    ways.set(key, known)
  }
  return [...ways.values()]
}

/** Which way of a branching step was taken, if it was one. */
function wayOf(decision: Decision): { step: string; branch: string | null } | null {
  switch (decision.kind) {
    case 'tookBranch':
      return { step: decision.step, branch: decision.branch }
    case 'tookArm':
      return { step: decision.step, branch: decision.arm }
    case 'came':
      return { step: decision.step, branch: decision.cameAt === null ? null : CAME }
    case 'calls':
    case 'datePast':
    case 'ended':
    case 'entered':
    case 'issues':
    case 'left':
    case 'marks':
    case 'sends':
    case 'skipped':
    case 'turnedAway':
    case 'waits':
      return null
  }
}

function exclusionNumbers(decisions: readonly Decision[]): WorkflowNumbersResponse['exclusions'] {
  const left = new Map<string, number>()
  for (const decision of decisions) {
    if (decision.kind !== 'left') continue
    left.set(decision.exclusion, (left.get(decision.exclusion) ?? 0) + 1)
  }
  return [...left].map(([exclusion, count]) => ({ exclusion, left: count }))
}
