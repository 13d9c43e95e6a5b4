import { compileCondition, type CompiledCondition } from '../conditions/compile.ts'
import type { EventType } from '../events/eventTypes.ts'
import { assertNever } from '../shared/assertNever.ts'
import type { Definition, EmailStep, Exclusion, SplitStep, Step } from './definition.ts'

/** A step with its successor worked out. `next` is null where the path closes. */
export type Instruction =
  | { kind: 'wait'; key: string; for: string; next: string | null }
  | { kind: 'split'; key: string; branches: CompiledBranch[]; otherwise: string | null }
  | {
      kind: 'email'
      key: string
      step: EmailStep
      onlyIf: CompiledCondition | null
      next: string | null
    }
  | { kind: 'end'; key: string }

export interface CompiledBranch {
  key: string
  when: CompiledCondition
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
  filter: CompiledCondition | null
  exclusions: CompiledExclusion[]
  instructions: ReadonlyMap<string, Instruction>
  first: string | null
  /** The event types that any of its conditions counts: the history a driver has to supply. */
  counts: ReadonlySet<EventType>
}

/** Compiles a definition that the document schema has accepted. */
export function compileProgram(definition: Definition): Program {
  const instructions = new Map<string, Instruction>()
  const first = addSteps(definition.steps, null, instructions)
  const filter = definition.trigger.filter ? compileCondition(definition.trigger.filter) : null
  const exclusions = definition.exclusions.map(({ key, effect, when }) => ({
    key,
    effect,
    when: compileCondition(when),
  }))
  const counts = new Set(
    [filter, ...exclusions.map(({ when }) => when), ...conditionsOf(instructions)].flatMap(
      (condition) => [...(condition?.counts ?? [])],
    ),
  )
  return { definition, filter, exclusions, instructions, first, counts }
}

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
  switch (step.kind) {
    case 'wait':
      return { kind: 'wait', key: step.key, for: step.for, next }
    case 'email': {
      const onlyIf = step.onlyIf ? compileCondition(step.onlyIf) : null
      return { kind: 'email', key: step.key, step, onlyIf, next }
    }
    case 'split':
      return splitInstruction(step, next, into)
    case 'end':
      return { kind: 'end', key: step.key }
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

function conditionsOf(
  instructions: ReadonlyMap<string, Instruction>,
): (CompiledCondition | null)[] {
  return [...instructions.values()].flatMap((instruction) => {
    if (instruction.kind === 'email') return [instruction.onlyIf]
    if (instruction.kind === 'split') return instruction.branches.map((branch) => branch.when)
    return []
  })
}
