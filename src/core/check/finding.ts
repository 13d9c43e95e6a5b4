/** Where a finding is to be mended. */
export type FindingPlace =
  | { kind: 'workflow' | 'trigger' | 'exclusions' }
  | { kind: 'step'; key: string }
  | { kind: 'branch'; fork: string; branch: string | null }

/** Something that stops (error) or questions (warning) switching a draft on. */
export interface Finding {
  code: string
  severity: 'error' | 'warning'
  place: FindingPlace
  title: string
  detail: string
}

/** A finding that stops going live. */
export function stops(code: string, place: FindingPlace, title: string, detail: string): Finding {
  return { code, severity: 'error', place, title, detail }
}
