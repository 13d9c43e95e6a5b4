import type { Condition } from '../conditions/condition.ts'
import { withLists } from './lists.ts'
import { isBranching, isMessage, type MessageStep, type Step } from './steps.ts'

/** What each key of some steps is called from now on. */
export type Names = ReadonlyMap<string, string>

/**
 * Gives steps, branches and arms new keys, also where their conditions name one of the messages among
 * them.
 */
export function renameKeys(steps: readonly Step[], names: Names): Step[] {
  return steps.map((step) => renamed(step, names))
}

const nameOf = (key: string, names: Names): string => names.get(key) ?? key

function renamed(step: Step, names: Names): Step {
  const key = nameOf(step.key, names)
  if (isMessage(step)) return { ...renamedMessage(step, names), key }
  if (!isBranching(step)) return { ...step, key }
  const inner = withLists(step, (steps) => renameKeys(steps, names))
  switch (inner.kind) {
    case 'split':
      return {
        ...inner,
        key,
        branches: inner.branches.map((branch) => ({
          ...branch,
          key: nameOf(branch.key, names),
          when: renameInCondition(branch.when, names),
        })),
      }
    case 'experiment':
      return {
        ...inner,
        key,
        arms: inner.arms.map((arm) => ({ ...arm, key: nameOf(arm.key, names) })),
      }
    case 'waitFor':
      return {
        ...inner,
        key,
        ...(inner.where && { where: renameInCondition(inner.where, names) }),
      }
  }
}

function renamedMessage(message: MessageStep, names: Names): MessageStep {
  const own = <Part extends { onlyIf?: Condition | undefined }>(part: Part): Part =>
    part.onlyIf ? { ...part, onlyIf: renameInCondition(part.onlyIf, names) } : part
  if (message.kind !== 'email' || !message.blocks) return own(message)
  const blocks = message.blocks.map((block) =>
    block.kind === 'columns'
      ? own({ ...block, columns: block.columns.map((column) => column.map(own)) })
      : own(block),
  )
  return own({ ...message, blocks })
}

/** The condition with the messages of this workflow that it names called by their new keys. */
export function renameInCondition(condition: Condition, names: Names): Condition {
  switch (condition.kind) {
    case 'all':
    case 'any':
      return { ...condition, of: condition.of.map((one) => renameInCondition(one, names)) }
    case 'not':
    case 'segment':
      return { ...condition, of: renameInCondition(condition.of, names) }
    case 'messages':
      return condition.workflow === 'this' && condition.step !== undefined
        ? { ...condition, step: nameOf(condition.step, names) }
        : condition
    case 'field':
    case 'history':
    case 'lines':
    case 'workflows':
      return condition
  }
}
