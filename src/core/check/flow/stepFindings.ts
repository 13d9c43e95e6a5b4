import type { Definition } from '../../workflow/definition.ts'
import { updateStep } from '../../workflow/edit.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isMessage, type Step } from '../../workflow/steps.ts'
import { findField } from '../../conditions/fields.ts'
import { canFill, type Trigger } from '../../workflow/trigger.ts'
import { stops, type Finding } from '../finding.ts'

/** Steps that are not finished, or ask for what the trigger does not bring. */
export function stepFindings(definition: Definition): Finding[] {
  return allSteps(definition.steps).flatMap((step) => {
    const problem = problemOf(step, definition.trigger)
    if (!problem) return []
    const { code, title, detail, repair } = problem
    const finding = stops(code, { kind: 'step', key: step.key }, title, detail)
    if (!repair) return [finding]
    const mend = (before: Definition) => updateStep(before, step.key, repair.change)
    return [{ ...finding, repair: { label: repair.label, mend } }]
  })
}

interface StepProblem {
  code: string
  title: string
  detail: string
  repair?: { label: string; change: (step: Step) => Step }
}

function problemOf(step: Step, trigger: Trigger): StepProblem | null {
  // What is wrong with messages is found apart.
  if (isMessage(step)) return null
  switch (step.kind) {
    case 'until':
      return untilProblem(step, trigger)
    case 'tag':
      return emptyProblem(step.tag, 'no-tag', 'A step has no tag to add or remove.')
    case 'list':
      return emptyProblem(step.list, 'no-list', 'A step has no list to add to or remove from.')
    case 'property':
      return emptyProblem(step.property, 'no-property', 'A step sets a property without a name.')
    case 'hook':
      return hookProblem(step.url)
    case 'coupon':
      return couponProblem(step.pattern)
    case 'experiment':
      return armsProblem(step.arms.map(({ weight }) => weight))
    case 'end':
    case 'split':
    case 'wait':
    case 'waitFor':
      return null
  }
}

function untilProblem(
  { until }: Extract<Step, { kind: 'until' }>,
  trigger: Trigger,
): StepProblem | null {
  if (until.kind === 'fixed') return null
  const about = findField(until.field)?.about ?? 'customer'
  if (canFill(trigger, about)) return null
  return {
    code: 'no-date',
    title: 'A step waits for a date that is never known.',
    detail: `This trigger brings no ${about}. Choose another date.`,
  }
}

function emptyProblem(text: string, code: string, title: string): StepProblem | null {
  return text.trim() === '' ? { code, title, detail: 'Give it a name, or remove the step.' } : null
}

function hookProblem(url: string): StepProblem | null {
  if (/^https?:\/\/[^\s/]+/.test(url)) return null
  const title = 'A hook has no address to call.'
  return { code: 'no-url', title, detail: 'Give one that begins with https://.' }
}

/** How many letters and digits a code usually has, for nobody to guess one. */
const USUAL_PLACES = 8

function couponProblem(pattern: string): StepProblem | null {
  const places = pattern.split('#').length - 1
  // One without any is a code that all share.
  if (places === 0 || places >= 6) return null
  const more = '#'.repeat(USUAL_PLACES - places + 1)
  return {
    code: 'short-coupon',
    title: 'A coupon’s codes can be guessed, or run out.',
    detail: 'Use at least six # in its pattern; each becomes a letter or digit.',
    repair: {
      label: 'Use eight',
      change: (step) =>
        step.kind === 'coupon' ? { ...step, pattern: pattern.replace(/#(?!.*#)/, more) } : step,
    },
  }
}

function armsProblem(weights: readonly number[]): StepProblem | null {
  if (weights.filter((weight) => weight > 0).length > 1) return null
  return {
    code: 'no-weights',
    title: 'An experiment sends everybody the same way.',
    detail: 'Give at least two arms a weight.',
    repair: {
      label: 'Send them in equal parts',
      change: (step) =>
        step.kind === 'experiment'
          ? { ...step, arms: step.arms.map((arm) => ({ ...arm, weight: 1 })) }
          : step,
    },
  }
}
