import { sameDocument } from '../shared/sameDocument.ts'
import type { Definition } from '../workflow/definition.ts'
import { listsOf, withLists } from '../workflow/lists.ts'
import { isBranching, type Step } from '../workflow/steps.ts'
import type { WordContext } from './conditions.ts'
import { outlineOf, type OutlinePlace } from './outline.ts'

export type ChangedPlace = OutlinePlace | { kind: 'workflow' }

/** One difference between two states of a workflow. */
export interface Change {
  kind: 'added' | 'removed' | 'changed' | 'moved'
  /** What it says now; for something removed, what it said. */
  text: string
  /** What it said before; only for a change of what it says. */
  was?: string
  /** Where it is; null for what is there no more. */
  place: ChangedPlace | null
}

/** The differences between two states of a workflow, in words: what was removed last. */
export function changesBetween(
  before: Definition,
  after: Definition,
  context: WordContext,
): Change[] {
  const old = partsOf(before, context)
  const now = partsOf(after, context)
  const lasting = [...now.keys()].filter((id) => old.has(id))
  const moved = movedAmong(lasting, old, now)
  return [
    ...headChanges(before, after),
    ...[...now].flatMap(([id, part]) => changesOf(old.get(id), part, moved.has(id))),
    ...[...old].flatMap(([id, { text }]): Change[] =>
      now.has(id) ? [] : [{ kind: 'removed', text, place: null }],
    ),
  ]
}

function headChanges(before: Definition, after: Definition): Change[] {
  const changes: Change[] = []
  const place = { kind: 'workflow' } as const
  if (before.name !== after.name) {
    changes.push({ kind: 'changed', text: `Named “${after.name}”`, was: before.name, place })
  }
  if (before.description !== after.description) {
    changes.push({ kind: 'changed', text: 'The description for colleagues', place })
  }
  if (!sameDocument(before.labels, after.labels)) {
    changes.push({ kind: 'changed', text: 'The labels', place })
  }
  if (!sameDocument(before.answered, after.answered)) {
    changes.push({ kind: 'changed', text: 'What is noted on the go-live check', place })
  }
  if (!sameDocument(before.examples, after.examples)) {
    changes.push({ kind: 'changed', text: 'The examples', place })
  }
  return changes
}

/** Something that has a line in the outline, with all that it says itself. */
interface Part {
  text: string
  place: OutlinePlace
  /** The document's own words on it, without what is inside. */
  own: unknown
  /** The path it stands on. */
  list: string
}

function partsOf(definition: Definition, context: WordContext): Map<string, Part> {
  const documents = documentsOf(definition)
  const seen = new Map<string, number>()
  return new Map(
    outlineOf(definition, context).flatMap(({ text, place }): [string, Part][] => {
      if (!place) return []
      const id = idOf(place, definition, seen)
      const { own, list } = documents.get(id) ?? { own: text, list: '' }
      return [[id, { text: text.replace(/:$/, ''), place, own, list }]]
    }),
  )
}

/** Names a part the same in both states. Exclusions have a line each and share a place. */
function idOf(place: OutlinePlace, { exclusions }: Definition, seen: Map<string, number>): string {
  if (place.kind === 'step') return `step ${place.key}`
  if (place.kind === 'branch') return `branch ${place.branching} ${place.branch ?? ''}`
  if (place.kind !== 'exclusions') return place.kind
  const index = seen.get('exclusions') ?? 0
  seen.set('exclusions', index + 1)
  return `exclusion ${exclusions[index]?.key ?? index}`
}

type Documents = Map<string, { own: unknown; list: string }>

function documentsOf(definition: Definition): Documents {
  const documents: Documents = new Map()
  documents.set('trigger', { own: definition.trigger, list: '' })
  documents.set('entry', { own: [definition.entry, definition.priority], list: '' })
  for (const { key, ...own } of definition.exclusions) {
    documents.set(`exclusion ${key}`, { own, list: '' })
  }
  addSteps(definition.steps, '', documents)
  return documents
}

function addSteps(steps: readonly Step[], list: string, documents: Documents): void {
  for (const step of steps) {
    documents.set(`step ${step.key}`, { own: ownOf(step), list })
    if (!isBranching(step)) continue
    for (const { branch, steps: inner } of listsOf(step)) {
      const id = `branch ${step.key} ${branch ?? ''}`
      documents.set(id, { own: branchOwn(step, branch), list: step.key })
      addSteps(inner, id, documents)
    }
  }
}

/** A step without the lists inside it, and without its paths, which are parts of their own. */
function ownOf(step: Step): unknown {
  if (!isBranching(step)) return step
  const bare = withLists(step, () => [])
  if (bare.kind === 'split') return { ...bare, branches: [] }
  return bare.kind === 'experiment' ? { ...bare, arms: [] } : bare
}

function branchOwn(step: Step, branch: string | null): unknown {
  if (step.kind === 'split') {
    const own = step.branches.find(({ key }) => key === branch)
    return own && { ...own, steps: [] }
  }
  if (step.kind !== 'experiment') return null
  const own = step.arms.find(({ key }) => key === branch)
  return own && { ...own, steps: [] }
}

function changesOf(old: Part | undefined, now: Part, hasMoved: boolean): Change[] {
  const { text, place } = now
  if (!old) return [{ kind: 'added', text, place }]
  const changes: Change[] = []
  if (!sameDocument(old.own, now.own)) changes.push(changed(old, now))
  if (hasMoved) changes.push({ kind: 'moved', text, place })
  return changes
}

function changed(old: Part, now: Part): Change {
  const { text, place } = now
  if (old.text !== text) return { kind: 'changed', text, was: old.text, place }
  const parts = changedParts(old.own, now.own)
  return { kind: 'changed', text: parts === '' ? text : `${text} — ${parts}`, place }
}

const PART_NAMES: Readonly<Record<string, string>> = {
  body: 'the text',
  blocks: 'the design',
  tracking: 'what is followed',
  invoice: 'the invoice with it',
  documents: 'the files with it',
  longLinks: 'what becomes of its links',
  language: 'in whose language dates and amounts are',
  subject: 'the subject',
  previewText: 'the preview text',
  sender: 'the sender',
  replyTo: 'where answers go',
  copies: 'who gets a copy',
  copiesShown: 'whether customers see the copies',
  groups: 'which groups of staff get it',
  to: 'who of the staff gets it',
  format: 'the form',
  onGap: 'what happens within the message gap',
  purpose: 'the purpose',
  name: 'the name',
  onlyIf: 'its condition',
  url: 'the address',
  weight: 'the weight',
}

/** What of a part has changed, where its sentence does not say so. */
function changedParts(old: unknown, now: unknown): string {
  const [a, b] = [old, now].map((one) => (one ?? {}) as Record<string, unknown>)
  if (!a || !b) return ''
  const keys = [...new Set([...Object.keys(a), ...Object.keys(b)])]
  const names = keys.flatMap((key) => (sameDocument(a[key], b[key]) ? [] : (PART_NAMES[key] ?? [])))
  return names.join(', ')
}

/** The parts that stand on another path, or in another order among those that stayed on theirs. */
function movedAmong(
  ids: readonly string[],
  old: ReadonlyMap<string, Part>,
  now: ReadonlyMap<string, Part>,
): Set<string> {
  const moved = new Set(ids.filter((id) => old.get(id)?.list !== now.get(id)?.list))
  const place = new Map([...old.keys()].map((id, index) => [id, index]))
  const lists = new Map<string, string[]>()
  for (const id of ids) {
    if (moved.has(id)) continue
    const list = now.get(id)?.list ?? ''
    lists.set(list, [...(lists.get(list) ?? []), id])
  }
  for (const list of lists.values()) {
    const stayed = longestRising(list.map((id) => place.get(id) ?? 0))
    list.forEach((id, index) => {
      if (!stayed.has(index)) moved.add(id)
    })
  }
  return moved
}

/** The positions of a longest rising run of numbers: what can be left where it is. */
function longestRising(numbers: readonly number[]): Set<number> {
  const best = numbers.map(() => ({ length: 1, before: -1 }))
  numbers.forEach((number, index) => {
    for (let before = 0; before < index; before += 1) {
      const length = (best[before]?.length ?? 0) + 1
      const own = best[index]
      if (own && (numbers[before] ?? 0) < number && length > own.length) {
        best[index] = { length, before }
      }
    }
  })
  const lengths = best.map(({ length }) => length)
  const kept = new Set<number>()
  let at = lengths.indexOf(Math.max(0, ...lengths))
  while (at >= 0) {
    kept.add(at)
    at = best[at]?.before ?? -1
  }
  return kept
}
