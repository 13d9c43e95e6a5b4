import type { Definition } from '../workflow/definition.ts'
import { findingId, type Finding } from './finding.ts'

/** The findings that are still to be thought about, and those that have been answered. */
export interface Sorted {
  open: Finding[]
  answered: { finding: Finding; note: string }[]
}

/** Parts findings by whether they have been answered. Errors cannot be answered away. */
export function sortedByAnswer(
  findings: readonly Finding[],
  answered: Definition['answered'],
): Sorted {
  const notes = new Map(answered?.map(({ finding, note }) => [finding, note]))
  const sorted: Sorted = { open: [], answered: [] }
  for (const finding of findings) {
    const note = finding.severity === 'warning' ? notes.get(findingId(finding)) : undefined
    if (note === undefined) sorted.open.push(finding)
    else sorted.answered.push({ finding, note })
  }
  return sorted
}

/** The document with an answer to a finding, in place of an earlier one. */
export function answer(definition: Definition, finding: Finding, note: string): Definition {
  const others = otherAnswers(definition, finding)
  return { ...definition, answered: [...others, { finding: findingId(finding), note }] }
}

/** The document with the finding open again. */
export function reopen(definition: Definition, finding: Finding): Definition {
  const { answered: _answered, ...rest } = definition
  const others = otherAnswers(definition, finding)
  return others.length === 0 ? rest : { ...rest, answered: others }
}

const otherAnswers = ({ answered = [] }: Definition, finding: Finding) =>
  answered.filter((one) => one.finding !== findingId(finding))
