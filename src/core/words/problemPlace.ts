import type { MessagePart } from '../workflow/templates.ts'
import type { Definition } from '../workflow/definition.ts'
import type { StepKind } from '../workflow/steps.ts'
import type { ChangedPlace } from './changes.ts'
import { STEP_WORDS } from './steps.ts'

/** Where in a workflow something cannot be taken: what to select, and how to call it. */
export interface ProblemPlace {
  place: ChangedPlace
  /** Of a message: which part of it. */
  part?: MessagePart
  /** "The subject of “Thanks”". */
  words: string
}

/** What is there of a document: its parts are looked at by name. */
type Part = Readonly<Record<string, unknown>>
type Owner = Pick<ProblemPlace, 'place'> & { owner: string }

/**
 * The place that a path like `steps.0.subject` leads to in a definition, which may be one that cannot
 * be taken: as far as the path goes.
 */
export function problemPlace(definition: Definition, path: string): ProblemPlace {
  let part: unknown = definition
  let within: string | undefined
  let about: Owner = { place: { kind: 'workflow' }, owner: 'the workflow' }
  let field: string | undefined
  let shown: MessagePart | undefined
  for (const name of path.split('.')) {
    part = (part as Part | undefined)?.[name]
    const owner = ownerOf(within ?? '', name, part, about)
    if (owner) [about, field, shown] = [owner, undefined, undefined]
    else {
      field ??= FIELDS[name]
      // Blocks may stand in the columns of one: the innermost counts.
      shown = blockIn(part, field) ?? shown ?? MESSAGE_PARTS[name]
    }
    if (Number.isNaN(Number(name))) within = name
  }
  return {
    place: about.place,
    ...(shown && about.place.kind === 'step' && { part: shown }),
    words: field ? `${field} of ${about.owner}` : `Something in ${about.owner}`,
  }
}

const blockIn = (part: unknown, field: string | undefined): MessagePart | undefined =>
  field === FIELDS['blocks'] && isKeyed(part) ? { kind: 'block', key: part.key } : undefined

const ENVELOPE = { kind: 'envelope' } as const
const MESSAGE_PARTS: Readonly<Record<string, MessagePart>> = {
  name: { kind: 'name' },
  subject: { kind: 'subject' },
  previewText: { kind: 'previewText' },
  body: { kind: 'text' },
  sender: ENVELOPE,
  replyTo: ENVELOPE,
  copies: ENVELOPE,
  groups: ENVELOPE,
  to: ENVELOPE,
  documents: ENVELOPE,
  tracking: ENVELOPE,
  onlyIf: ENVELOPE,
}

/** What a part is itself, if it is one that can be selected. */
function ownerOf(list: string, name: string, part: unknown, around: Owner): Owner | null {
  if (name === 'trigger') return { place: { kind: 'trigger' }, owner: 'the trigger' }
  if (name === 'entry') return { place: { kind: 'entry' }, owner: 'the entry rule' }
  if (name === 'exclusions') return { place: { kind: 'exclusions' }, owner: 'the exclusions' }
  if (!isKeyed(part)) return null
  if (STEP_LISTS.has(list)) {
    return {
      place: { kind: 'step', key: part.key },
      owner: quoted(part.name) ?? STEP_WORDS[part.kind],
    }
  }
  if (!PATH_LISTS.has(list) || around.place.kind !== 'step') return null
  const place = { kind: 'branch', branching: around.place.key, branch: part.key } as const
  return { place, owner: `the path ${quoted(part.name) ?? 'without a name'}` }
}

const STEP_LISTS = new Set(['steps', 'otherwise', 'came'])
const PATH_LISTS = new Set(['branches', 'arms'])

interface Keyed {
  key: string
  kind: StepKind
  name?: string
}

const isKeyed = (part: unknown): part is Keyed =>
  typeof part === 'object' && part !== null && 'key' in part

const quoted = (name: string | undefined) => (name ? `“${name}”` : undefined)

/** Parts of a document as they are called on the screen. */
const FIELDS: Readonly<Record<string, string>> = {
  name: 'The name',
  description: 'The description',
  labels: 'A label',
  priority: 'The priority',
  answered: 'A note on the go-live check',
  filter: 'The filter',
  when: 'The condition',
  onlyIf: 'The condition',
  where: 'The condition',
  for: 'The duration',
  limit: 'The limit',
  duration: 'The duration',
  at: 'The time',
  days: 'The number of days',
  weekdays: 'A weekday',
  sender: 'The sender',
  replyTo: 'The address for answers',
  to: 'An address',
  copies: 'An address for copies',
  groups: 'A group of staff',
  subject: 'The subject',
  previewText: 'The preview text',
  body: 'The text',
  blocks: 'A block',
  documents: 'A file',
  tracking: 'What is followed',
  pattern: 'The code',
  discount: 'The discount',
  expiresAfter: 'The expiry',
  minimum: 'The least an order comes to',
  categories: 'A category',
  maxUses: 'The number of uses',
  weight: 'The weight',
  lottery: 'The lottery',
  tag: 'The name',
  list: 'The name',
  property: 'The name',
  value: 'The value',
  url: 'The address',
}
