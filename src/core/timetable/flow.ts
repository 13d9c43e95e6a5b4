import type { Definition } from '../workflow/definition.ts'
import { listsOf } from '../workflow/lists.ts'
import { isBranching, type Step } from '../workflow/steps.ts'
import type { Item, Link } from './layout.ts'

/** What has been counted of a workflow, as far as the flow of people goes by it. */
export interface Counted {
  entered: number
  steps: readonly { step: string; waiting: number; left: number }[]
  branches: readonly { step: string; branch: string | null; taken: number }[]
}

/**
 * How many people went along each line of a timetable: those who entered, less those who left or wait before it,
 * parted as they were parted.
 */
export function peopleOn(definition: Definition, counted: Counted): (link: Link) => number {
  const out = new Map<string, number>()
  const taken = (step: string, branch: string | null): number =>
    counted.branches.find((one) => one.step === step && one.branch === branch)?.taken ?? 0
  const walk = (steps: readonly Step[], people: number): number => {
    let left = people
    for (const step of steps) {
      left = isBranching(step)
        ? listsOf(step).reduce((sum, list) => sum + walk(list.steps, taken(step.key, list.branch)), 0) // prettier-ignore
        : goOn(step, left, counted)
      out.set(step.key, left)
    }
    return left
  }
  walk(definition.steps, counted.entered)
  const after = (item: Item): number => {
    if (item.kind === 'start') return counted.entered
    if (item.kind === 'branch') return taken(item.branching ?? '', item.key)
    return out.get(item.key ?? '') ?? 0
  }
  return ({ from, to }) => (to.kind === 'branch' ? after(to) : after(from))
}

function goOn({ key, kind }: Step, people: number, { steps }: Counted): number {
  if (kind === 'end') return 0
  const own = steps.find((one) => one.step === key)
  return Math.max(0, people - (own?.left ?? 0) - (own?.waiting ?? 0))
}
