import { compileCondition } from '../conditions/compile.ts'
import type { CompiledCondition } from '../conditions/compiled.ts'
import { needsOfAll, type Needs } from '../conditions/needs.ts'
import type { SubjectKind } from '../events/eventTypes.ts'
import { blocksOf, showsCoupon } from './templates.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { Definition, Exclusion } from './definition.ts'
import {
  isBranching,
  isMessage,
  type CouponStep,
  type ExperimentStep,
  type BranchingStep,
  type HookStep,
  type ListStep,
  type MessageStep,
  type PropertyStep,
  type SplitStep,
  type Step,
  type TagStep,
  type UntilStep,
  type WaitForStep,
  type WaitStep,
  isToCustomer,
} from './steps.ts'
import { subjectOf } from './trigger.ts'

/** A step with its successors worked out. `next` is null where the path closes. */
export type Instruction =
  | { kind: 'wait'; key: string; step: WaitStep; next: string | null }
  | { kind: 'until'; key: string; step: UntilStep; next: string | null }
  | WaitForInstruction
  | { kind: 'split'; key: string; branches: CompiledBranch[]; otherwise: string | null }
  | { kind: 'experiment'; key: string; lottery: string; arms: CompiledArm[] }
  | MessageInstruction
  | { kind: 'action'; key: string; step: ActionStep; next: string | null }
  | { kind: 'end'; key: string }

export interface WaitForInstruction {
  kind: 'waitFor'
  key: string
  step: WaitForStep
  where: CompiledCondition | null
  came: string | null
  otherwise: string | null
}

export interface MessageInstruction {
  kind: 'message'
  key: string
  step: MessageStep
  onlyIf: CompiledCondition | null
  /** The conditions of a designed email's blocks, by their keys. */
  blocksIf: ReadonlyMap<string, CompiledCondition>
  /** Whether a coupon's code may stand in it. */
  showsCoupon: boolean
  next: string | null
}

/** A step that does something and is read by nobody. */
export type ActionStep = CouponStep | TagStep | ListStep | PropertyStep | HookStep

export interface CompiledBranch {
  key: string
  when: CompiledCondition
  first: string | null
}

export interface CompiledArm {
  key: string
  weight: number
  holdout: boolean
  first: string | null
}

export interface CompiledExclusion {
  key: string
  effect: Exclusion['effect']
  when: CompiledCondition
}

/** One version of a workflow, ready to run. */
export interface Program {
  definition: Definition
  subject: SubjectKind
  filter: CompiledCondition | null
  exclusions: CompiledExclusion[]
  instructions: ReadonlyMap<string, Instruction>
  first: string | null
  /** What its conditions, waits and gates ask about: what a driver has to supply. */
  needs: Needs
  /** Whether it tags people, puts them on lists or notes something down. */
  marks: boolean
  /** The coupon steps behind which a message may come that shows the code. */
  shownLater: ReadonlySet<string>
}

/** Compiles a definition that the document schema has accepted. */
export function compileProgram(definition: Definition): Program {
  const instructions = new Map<string, Instruction>()
  const first = addSteps(definition.steps, null, instructions)
  const { trigger } = definition
  const filter = trigger.filter ? compileCondition(trigger.filter) : null
  const exclusions = definition.exclusions.map(({ key, effect, when }) => ({
    key,
    effect,
    when: compileCondition(when),
  }))
  const needs = needsOfAll([
    ...(filter ? [filter.needs] : []),
    ...exclusions.map(({ when }) => when.needs),
    ...[...instructions.values()].flatMap(needsOf),
  ])
  const marks = [...instructions.values()].some(
    (one) => one.kind === 'action' && one.step.kind !== 'coupon' && one.step.kind !== 'hook',
  )
  const subject = subjectOf(trigger)
  const shownLater = couponsShownLater(instructions)
  return { definition, subject, filter, exclusions, instructions, first, needs, marks, shownLater }
}

function couponsShownLater(instructions: ReadonlyMap<string, Instruction>): Set<string> {
  const coupons = [...instructions.values()].filter(
    (one) => one.kind === 'action' && one.step.kind === 'coupon',
  )
  return new Set(coupons.filter((one) => isShownFrom(one, instructions)).map(({ key }) => key))
}

function isShownFrom(
  from: Instruction,
  instructions: ReadonlyMap<string, Instruction>,
  seen = new Set<string>(),
): boolean {
  return successorsOf(from).some((key) => {
    const next = instructions.get(key)
    if (!next || seen.has(key)) return false
    seen.add(key)
    return (next.kind === 'message' && next.showsCoupon) || isShownFrom(next, instructions, seen)
  })
}

function successorsOf(instruction: Instruction): string[] {
  switch (instruction.kind) {
    case 'split':
      return present([...instruction.branches.map(({ first }) => first), instruction.otherwise])
    case 'experiment':
      return present(instruction.arms.map(({ first }) => first))
    case 'waitFor':
      return present([instruction.came, instruction.otherwise])
    case 'end':
      return []
    case 'action':
    case 'message':
    case 'until':
    case 'wait':
      return present([instruction.next])
  }
}

const present = (keys: readonly (string | null)[]): string[] => keys.filter((key) => key !== null)

/** Adds a list of steps that goes on to `after`; returns the key its first step goes by. */
function addSteps(
  steps: readonly Step[],
  after: string | null,
  into: Map<string, Instruction>,
): string | null {
  return steps.reduceRight<string | null>((next, step) => {
    into.set(step.key, instructionOf(step, next, into))
    return step.key
  }, after)
}

function instructionOf(
  step: Step,
  next: string | null,
  into: Map<string, Instruction>,
): Instruction {
  const { key } = step
  if (isMessage(step)) {
    const onlyIf = step.onlyIf ? compileCondition(step.onlyIf) : null
    const blocksIf = blockConditions(step)
    return { kind: 'message', key, step, onlyIf, blocksIf, showsCoupon: showsCoupon(step), next }
  }
  if (isBranching(step)) return branchingInstruction(step, next, into)
  switch (step.kind) {
    case 'wait':
      return { kind: 'wait', key, step, next }
    case 'until':
      return { kind: 'until', key, step, next }
    case 'coupon':
    case 'tag':
    case 'list':
    case 'property':
    case 'hook':
      return { kind: 'action', key, step, next }
    case 'end':
      return { kind: 'end', key }
    default:
      return assertNever(step, 'step')
  }
}

function branchingInstruction(
  step: BranchingStep,
  next: string | null,
  into: Map<string, Instruction>,
): Instruction {
  switch (step.kind) {
    case 'split':
      return splitInstruction(step, next, into)
    case 'experiment':
      return experimentInstruction(step, next, into)
    case 'waitFor':
      return waitForInstruction(step, next, into)
    default:
      return assertNever(step, 'step')
  }
}

function splitInstruction(
  step: SplitStep,
  next: string | null,
  into: Map<string, Instruction>,
): Instruction {
  const branches = step.branches.map((branch) => ({
    key: branch.key,
    when: compileCondition(branch.when),
    first: addSteps(branch.steps, next, into),
  }))
  return { kind: 'split', key: step.key, branches, otherwise: addSteps(step.otherwise, next, into) }
}

function experimentInstruction(
  step: ExperimentStep,
  next: string | null,
  into: Map<string, Instruction>,
): Instruction {
  const arms = step.arms.map(({ key, weight, holdout, steps }) => ({
    key,
    weight,
    holdout: holdout ?? false,
    first: addSteps(steps, next, into),
  }))
  return { kind: 'experiment', key: step.key, lottery: step.lottery, arms }
}

function waitForInstruction(
  step: WaitForStep,
  next: string | null,
  into: Map<string, Instruction>,
): WaitForInstruction {
  return {
    kind: 'waitFor',
    key: step.key,
    step,
    where: step.where ? compileCondition(step.where) : null,
    came: addSteps(step.came, next, into),
    otherwise: addSteps(step.otherwise, next, into),
  }
}

/** The conditions of a designed email's blocks, by their keys. */
export function blockConditions(message: MessageStep): Map<string, CompiledCondition> {
  return new Map(
    blocksOf(message).flatMap(({ key, onlyIf }) =>
      onlyIf ? [[key, compileCondition(onlyIf)] as const] : [],
    ),
  )
}

function needsOf(instruction: Instruction): Needs[] {
  switch (instruction.kind) {
    case 'message': {
      const { step, onlyIf, blocksIf } = instruction
      // The message gap asks what else the person got.
      const messages = isToCustomer(step) && step.purpose === 'marketing'
      const own = { events: new Map(), entries: false, messages }
      const asked = [...(onlyIf ? [onlyIf] : []), ...blocksIf.values()]
      return [own, ...asked.map(({ needs }) => needs)]
    }
    case 'split':
      return instruction.branches.map(({ when }) => when.needs)
    case 'waitFor': {
      const { step, where } = instruction
      const own = {
        entries: false,
        messages: false,
        events: new Map([[step.event, where !== null]]),
      }
      return where ? [own, where.needs] : [own]
    }
    case 'action':
    case 'end':
    case 'experiment':
    case 'until':
    case 'wait':
      return []
  }
}
