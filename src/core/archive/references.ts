import { FIELDS } from '../conditions/fields.ts'

/** What a document refers to that lies outside of it. */
export interface References {
  workflows: Set<string>
  products: Set<string>
  /** Pictures, by the id in their path. */
  pictures: Set<string>
  documents: Set<string>
  kept: Set<string>
  senders: Set<string>
  groups: Set<string>
}
export type ReferenceKind = keyof References

/** What takes the place of a reference; what is not in it stays as it is. */
export type Replacements = Partial<Record<ReferenceKind, ReadonlyMap<string, string>>>

const PRODUCT_FIELDS: ReadonlySet<string> = new Set(
  FIELDS.filter(({ values }) => values === 'products').map(({ key }) => key),
)
const PICTURE = /\/files\/([A-Za-z0-9_-]{1,60})/g
/** Workflows that are named by what they are to the document, not by an id. */
const NAMED: ReadonlySet<string> = new Set(['this', 'any'])

type Told = (kind: ReferenceKind, id: string) => string

/** Everything that a document (a workflow, blocks, a design) refers to. */
export function referencesIn(document: unknown): References {
  const found: References = {
    workflows: new Set(),
    products: new Set(),
    pictures: new Set(),
    documents: new Set(),
    kept: new Set(),
    senders: new Set(),
    groups: new Set(),
  }
  walk(document, (kind, id) => {
    found[kind].add(id)
    return id
  })
  return found
}

/** A document with what it refers to called by other names. */
export const withReplaced = <Kind>(document: Kind, by: Replacements): Kind =>
  walk(document, (kind, id) => by[kind]?.get(id) ?? id) as Kind

/** Goes through a document as it is written, whatever it is of, and puts what is told in the place of each reference. */
function walk(value: unknown, told: Told): unknown {
  if (typeof value === 'string') {
    return value.replaceAll(PICTURE, (_, id: string) => `/files/${told('pictures', id)}`)
  }
  if (Array.isArray(value)) return value.map((one) => walk(one, told))
  if (typeof value !== 'object' || value === null) return value
  const entries = Object.entries(value).map(([key, part]) => [key, referring(value, key, part, told) ?? walk(part, told)])
  return Object.fromEntries(entries) as unknown
} // prettier-ignore

type Owner = { kind?: unknown; field?: unknown }

/** What takes the place of a part, by its name in what it belongs to; null for one that is no reference. */
const REFERRING: Readonly<Record<string, (owner: Owner, part: unknown, told: Told) => unknown>> = {
  workflow: ({ kind }, part, told) => {
    if (typeof part !== 'string' || (kind !== 'workflows' && kind !== 'messages')) return null
    return NAMED.has(part) ? part : told('workflows', part)
  },
  value: ({ field }, part, told) => {
    if (typeof field !== 'string' || !PRODUCT_FIELDS.has(field)) return null
    if (Array.isArray(part)) return part.map((id) => told('products', String(id)))
    return typeof part === 'string' ? told('products', part) : null
  },
  kept: ({ kind }, part, told) =>
    kind === 'kept' && typeof part === 'string' ? told('kept', part) : null,
  documents: (_, part, told) =>
    Array.isArray(part)
      ? (part as { id: string }[]).map((one) => ({ ...one, id: told('documents', one.id) }))
      : null,
  groups: (_, part, told) =>
    Array.isArray(part) ? part.map((group) => told('groups', String(group))) : null,
  sender: (_, part, told) =>
    typeof part === 'object' && part !== null && 'address' in part
      ? { ...part, address: told('senders', String(part.address)) }
      : null,
}

const referring = (owner: object, key: string, part: unknown, told: Told): unknown =>
  Object.hasOwn(REFERRING, key) ? REFERRING[key]?.(owner, part, told) : null
