import { wayName } from './wayNames.ts'
import { isStatusChange } from '../events/eventTypes.ts'
import type { Definition } from '../workflow/definition.ts'
import { CAME, listsOf, type InnerList } from '../workflow/lists.ts'
import { isBranching, type BranchingStep, type Step } from '../workflow/steps.ts'
import { conditionWords, type WordContext } from './conditions.ts'
import { durationWords } from './quantities.ts'
import { stepSentence } from './stepSentences.ts'
import { triggerWords } from './triggers.ts'
import { EVENT_WORDS } from './eventWords.ts'

/** What a line of the outline is about. */
export type OutlinePlace =
  | { kind: 'trigger' | 'entry' | 'exclusions' }
  | { kind: 'step'; key: string }
  | { kind: 'branch'; branching: string; branch: string | null }

export interface OutlineLine {
  /** How far it is set in. */
  depth: number
  text: string
  /** Null for lines that only say how the way goes on. */
  place: OutlinePlace | null
}

/** A workflow in plain language, line by line: the same as its timetable. */
export function outlineOf(definition: Definition, context: WordContext): OutlineLine[] {
  const { exclusions, steps } = definition
  return [
    { depth: 0, text: startSentence(definition, context), place: { kind: 'trigger' } },
    { depth: 0, text: entrySentence(definition), place: { kind: 'entry' } },
    ...exclusions.map(({ when, effect }): OutlineLine => {
      const what = effect === 'leave' ? 'Leave before any message' : 'Skip a step'
      const text = `${what} if ${conditionWords(when, context)}.`
      return { depth: 0, text, place: { kind: 'exclusions' } }
    }),
    ...listLines(steps, 0, context),
    ...(closes(steps) ? [] : [{ depth: 0, text: 'That is all.', place: null }]),
  ]
}

function startSentence({ trigger }: Definition, context: WordContext): string {
  const words = triggerWords(trigger, context)
  if (trigger.kind !== 'event' || isStatusChange(trigger.event)) return `Starts: ${words}.`
  const each = trigger.per === 'line' ? ', for each of its lines' : ''
  const filter = trigger.filter ? `, if ${conditionWords(trigger.filter, context)}` : ''
  return `When ${EVENT_WORDS[trigger.event].happened}${each}${filter}:`
}

function entrySentence({ entry: { rule, overlap }, priority }: Definition): string {
  const how =
    rule.kind === 'every'
      ? 'every time'
      : rule.kind === 'once'
        ? 'once ever'
        : `again once ${durationWords(rule.duration)} have passed`
  const one = overlap === 'one' ? ', one run at a time' : ''
  return `A person may enter ${how}${one}. Priority ${priority}.`
}

function listLines(steps: readonly Step[], depth: number, context: WordContext): OutlineLine[] {
  return steps.flatMap((step, index) => {
    const line: OutlineLine = {
      depth,
      text: stepSentence(step, context),
      place: { kind: 'step', key: step.key },
    }
    if (!isBranching(step)) return [line]
    const inner = listsOf(step).flatMap((list) => branchLines(step, list, depth + 1, context))
    const goesOn = index < steps.length - 1
    const rejoin = { depth, text: 'Then, whoever is still on the way:', place: null }
    return [line, ...inner, ...(goesOn ? [rejoin] : [])]
  })
}

function branchLines(
  branching: BranchingStep,
  list: InnerList,
  depth: number,
  context: WordContext,
): OutlineLine[] {
  const place = { kind: 'branch', branching: branching.key, branch: list.branch } as const
  const who = branchWords(branching, list, context)
  if (list.steps.length === 0) {
    const what = list.holdout ? 'gets nothing of this' : 'goes on'
    return [{ depth, text: `${who}: ${what}.`, place }]
  }
  return [{ depth, text: `${who}:`, place }, ...listLines(list.steps, depth + 1, context)]
}

function branchWords(branching: BranchingStep, list: InnerList, context: WordContext): string {
  const { branch } = list
  const name = wayName(branching, list)
  if (branching.kind === 'split') {
    const when = branching.branches.find(({ key }) => key === branch)?.when
    return when ? `${name || 'Unnamed path'}, if ${conditionWords(when, context)}` : name
  }
  if (branching.kind === 'waitFor') return branch === CAME ? 'If it came' : 'If it did not'
  const total = branching.arms.reduce((sum, { weight }) => sum + weight, 0)
  const weight = branching.arms.find(({ key }) => key === branch)?.weight ?? 0
  const share = total === 0 ? 0 : Math.round((weight / total) * 100)
  return `${name || 'Unnamed arm'}, ${share} %`
}

const closes = (steps: readonly Step[]): boolean => steps.at(-1)?.kind === 'end'

/** The outline as plain text, for mail, paper and version control. */
export function outlineText(definition: Definition, context: WordContext): string {
  const lines = outlineOf(definition, context).map(
    ({ depth, text }) => `${'  '.repeat(depth)}${depth > 0 ? '- ' : ''}${text}`,
  )
  const about = definition.description.trim()
  return [definition.name, ...(about === '' ? [] : [about]), '', ...lines, ''].join('\n')
}
