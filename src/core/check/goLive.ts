import type { Definition } from '../workflow/definition.ts'
import { removeStep } from '../workflow/edit.ts'
import { allSteps, listsOf } from '../workflow/lists.ts'
import { isBranching, isMessage, type MessageStep, type Step } from '../workflow/steps.ts'
import { blockFindings } from './message/blockFindings.ts'
import { conditionFindings } from './flow/conditionFindings.ts'
import { couponFindings } from './flow/couponFindings.ts'
import { driftFindings } from './flow/driftFindings.ts'
import { exclusionFindings } from './flow/exclusionFindings.ts'
import { stops, type Finding } from './finding.ts'
import { messageFindings } from './message/messageFindings.ts'
import { practiceFindings } from './flow/practiceFindings.ts'
import { reachFindings } from './flow/reachFindings.ts'
import { scopeFindings } from './flow/scopeFindings.ts'
import { stepFindings } from './flow/stepFindings.ts'
import { translationFindings } from './message/translationFindings.ts'
import { wordingFindings } from './message/wordingFindings.ts'

/** All findings of the go-live check, errors first, each group in reading order. */
export function goLiveFindings(definition: Definition): Finding[] {
  const unfinished = conditionFindings(definition)
  const findings = [
    ...workflowFindings(definition),
    ...unfinished,
    // What is not finished yet cannot be reasoned about.
    ...(unfinished.length === 0 ? reachFindings(definition) : []),
    ...scopeFindings(definition),
    ...exclusionFindings(definition),
    ...unreachedFindings(definition.steps),
    ...stepFindings(definition),
    ...messageFindings(definition),
    ...blockFindings(definition),
    ...practiceFindings(definition),
    ...driftFindings(definition),
    ...couponFindings(definition),
    ...wordingFindings(definition),
    ...translationFindings(definition),
  ]
  return [
    ...findings.filter(({ severity }) => severity === 'error'),
    ...findings.filter(({ severity }) => severity === 'warning'),
  ]
}

function messagesOf(definition: Definition): MessageStep[] {
  return allSteps(definition.steps).filter(isMessage)
}

const DOES_SOMETHING: ReadonlySet<Step['kind']> = new Set(['hook', 'tag', 'list', 'property'])

function workflowFindings(definition: Definition): Finding[] {
  const place = { kind: 'workflow' } as const
  const findings: Finding[] = []
  if (definition.name.trim() === '') {
    const detail = 'Colleagues find it by its name.'
    findings.push(stops('no-name', place, 'This workflow has no name.', detail))
  }
  const acts = allSteps(definition.steps).some(({ kind }) => DOES_SOMETHING.has(kind))
  if (messagesOf(definition).length === 0 && !acts) {
    const detail = 'Add at least one message or action.'
    findings.push(stops('no-message', place, 'This workflow does nothing.', detail))
  }
  return findings
}

function unreachedFindings(steps: readonly Step[]): Finding[] {
  const closing = steps.findIndex(closesPath)
  const unreached = closing === -1 ? undefined : steps[closing + 1]
  const inside = steps.flatMap((step) =>
    isBranching(step) ? listsOf(step).flatMap((list) => unreachedFindings(list.steps)) : [],
  )
  if (!unreached) return inside
  const title = 'Nobody gets here: every path before it has ended.'
  const detail = 'Remove the end before it, or remove what comes after.'
  const finding = stops('unreached', { kind: 'step', key: unreached.key }, title, detail)
  const end = steps[closing]
  // Where all paths of a branching step end, which of them is to go on cannot be told.
  if (end?.kind !== 'end') return [...inside, finding]
  const mend = (before: Definition) => removeStep(before, end.key)
  return [...inside, { ...finding, repair: { label: 'Remove the end before it', mend } }]
}

/** True when nobody goes on after the step. */
function closesPath(step: Step): boolean {
  if (step.kind === 'end') return true
  return isBranching(step) && listsOf(step).every((list) => list.steps.some(closesPath))
}
