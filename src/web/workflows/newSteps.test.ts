import fc from 'fast-check'
import { expect, test } from 'vitest'
import { aDefinition } from '../../testing/builders.ts'
import { clipStep, paste, type Clipping } from '../../core/workflow/clipping.ts'
import { definitionSchema, type Definition } from '../../core/workflow/definition.ts'
import { addArm, addBranch, insertStep, moveStep, placeOf, removeArm, removeBranch, removeStep } from '../../core/workflow/edit.ts' // prettier-ignore
import { allSteps, listsOf, type Place } from '../../core/workflow/lists.ts'
import { isBranching, type Step } from '../../core/workflow/steps.ts'
import { newArm, newBranch, newLottery, newStep } from './newSteps.ts'
import { STEP_KINDS } from './stepLooks.ts'

const SENDER = { name: 'Maren', address: 'maren@combwright.example' }

type Edit = (definition: Definition, step: Step, where: number) => Definition

/** What is done to a step that is there; each does nothing to a step of another kind. */
const EDITS: readonly Edit[] = [
  (definition, step) => (step.kind === 'experiment' ? addArm(definition, step.key, newArm(definition, step.arms)) : definition),
  (definition, step) => (step.kind === 'split' ? addBranch(definition, step.key, newBranch(definition, step.branches)) : definition),
  (definition, step, where) => (step.kind === 'experiment' ? removeArm(definition, step.key, step.arms[where % step.arms.length]?.key ?? '') : definition),
  (definition, step, where) => (step.kind === 'split' ? removeBranch(definition, step.key, step.branches[where % step.branches.length]?.key ?? '') : definition),
  (definition, step, where) => paste(definition, placeIn(definition, where), clipStep(definition, step.key) as Clipping, newLottery).definition,
  (definition, step, where) => moveStep(definition, step.key, placeIn(definition, where)),
  (definition, step) => removeStep(definition, step.key),
] // prettier-ignore

/** Some place in the workflow: before one of its steps, or inside one that branches. */
function placeIn(definition: Definition, where: number): Place {
  const steps = allSteps(definition.steps)
  const goal = steps[where % Math.max(1, steps.length)]
  if (!goal) return { list: null, index: 0 }
  const inside = isBranching(goal) ? listsOf(goal).find(({ holdout }) => !holdout) : undefined
  if (inside && where % 2 === 0)
    return { list: { branching: goal.key, branch: inside.branch }, index: 0 }
  return placeOf(definition, goal.key) ?? { list: null, index: 0 }
}

/** One edit as somebody makes it, chosen by numbers. */
function edited(definition: Definition, [what, which, where]: readonly [number, number, number]) {
  const kind = STEP_KINDS[what]
  if (kind)
    return insertStep(definition, placeIn(definition, where), newStep(definition, kind, SENDER))
  const steps = allSteps(definition.steps)
  const step = steps[which % Math.max(1, steps.length)]
  const edit = EDITS[what - STEP_KINDS.length]
  return step && edit ? edit(definition, step, where) : definition
}

test('whatever is added, copied, moved and taken out in whatever order, the workflow can be saved (property)', () => {
  const edit = fc.tuple(fc.nat(STEP_KINDS.length + 6), fc.nat(50), fc.nat(50))
  const kindOf = (kind: string) => STEP_KINDS.findIndex((one) => one === kind)
  const twoExperiments: [[number, number, number][]] = [[[kindOf('experiment'), 0, 0], [kindOf('experiment'), 0, 0]]] // prettier-ignore
  fc.assert(
    fc.property(fc.array(edit, { maxLength: 30 }), (edits) => {
      const definition = edits.reduce<Definition>((before, one) => edited(before, one), aDefinition({ steps: [] })) // prettier-ignore
      const deep = definitionSchema.safeParse(definition)
      // How deep steps may lie is a limit of its own.
      const problems = (deep.error?.issues ?? []).filter(({ message }) => !/levels deep|more than/.test(message)) // prettier-ignore
      expect(problems).toEqual([])
      const experiments = allSteps(definition.steps).filter((step) => step.kind === 'experiment')
      expect(new Set(experiments.map(({ lottery }) => lottery)).size).toBe(experiments.length)
    }),
    { numRuns: 400, examples: [twoExperiments] },
  )
})

test('an arm that comes after one was taken out has a name that no other has', () => {
  const named = (name: string) => ({ key: name, name })
  expect(newArm(aDefinition(), [named('Arm A'), named('Arm C')]).name).toBe('Arm B')
  expect(newArm(aDefinition(), [named('Arm A'), named('arm b')]).name).toBe('Arm C')
})

test('the first path of a split is about orders where orders start the workflow, else about who has bought', () => {
  expect(newBranch(aDefinition(), []).name).toBe('First order')
  expect(newBranch(aDefinition(), [{ name: 'First order' }]).name).toBe('Second order')
  const checkout = aDefinition({ trigger: { kind: 'event', event: 'checkout.started' } })
  expect(newBranch(checkout, [])).toMatchObject({
    name: 'Never ordered',
    when: { count: { op: 'exactly', times: 0 } },
  })
})
