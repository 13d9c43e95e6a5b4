import type { MessagePart } from '../workflow/templates.ts'
import type { Definition } from '../workflow/definition.ts'

/** Where a finding is to be mended. */
export type FindingPlace =
  | { kind: 'workflow' | 'trigger' | 'entry' | 'exclusions' }
  | { kind: 'step'; key: string }
  | { kind: 'branch'; branching: string; branch: string | null }

/** Something that stops (error) or questions (warning) switching a draft on. */
export interface Finding {
  code: string
  severity: 'error' | 'warning'
  place: FindingPlace
  /** Of a message: which part of it. */
  part?: MessagePart
  title: string
  detail: string
  /** What mends it in one step, where something does. */
  repair?: Repair
}

/** A change of the draft, as it is offered on a button. */
export interface Repair {
  label: string
  mend: (definition: Definition) => Definition
}

/** Names a finding, the same each time the check is made. */
export function findingId({ code, place }: Pick<Finding, 'code' | 'place'>): string {
  return `${code} ${JSON.stringify(place)}`
}

/** Findings of the same kind together: what stops going live first, then as they were found. */
export function alikeFindings(findings: readonly Finding[]): [Finding, ...Finding[]][] {
  const kinds = new Map<string, [Finding, ...Finding[]]>()
  for (const finding of findings) {
    const kind = `${finding.severity} ${finding.code}`
    const alike = kinds.get(kind)
    if (alike) alike.push(finding)
    else kinds.set(kind, [finding])
  }
  const late = ([{ severity }]: [Finding, ...Finding[]]) => (severity === 'error' ? 0 : 1)
  return [...kinds.values()].toSorted((a, b) => late(a) - late(b))
}

/** A finding that stops going live. */
export function stops(code: string, place: FindingPlace, title: string, detail: string): Finding {
  return { code, severity: 'error', place, title, detail }
}

/** A finding that only gives something to think about. */
export function advises(code: string, place: FindingPlace, title: string, detail: string): Finding {
  return { code, severity: 'warning', place, title, detail }
}
