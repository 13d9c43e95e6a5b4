import { Drop, Liquid, type Template } from 'liquidjs'
import type { Facts } from '../../core/events/facts.ts'
import { MERGE_FIELDS, mergeValues, type MergeField } from '../../core/messages/mergeFields.ts'
import { RenderError, unknownField } from './renderError.ts'

const MAX_OUTPUT_CHARACTERS = 200_000

/**
 * Templates are users' input: no files, own properties only, limits on time and memory, and a field
 * that is unknown or empty without a fallback is an error, not a blank.
 */
const liquid = new Liquid({
  strictVariables: true,
  strictFilters: true,
  lenientIf: true,
  ownPropertyOnly: true,
  templates: {},
  parseLimit: 100_000,
  renderLimit: 500,
  memoryLimit: 5_000_000,
})

/** A value that can be written in more than one way; everywhere else it is its usual text. */
class Written extends Drop {
  readonly #text: string
  readonly as: (format: string) => string | null

  constructor(text: string, as: (format: string) => string | null) {
    super()
    this.#text = text
    this.as = as
  }

  override valueOf(): string {
    return this.#text
  }
}

/** Stands for what is not known where that is to be said; a fallback goes before it. */
class Unknown extends Drop {
  override valueOf(): string {
    return 'not known'
  }
}

liquid.registerFilter('default', (value: unknown, fallback: unknown, ...options: unknown[]) => {
  refuseOptions(options)
  return isKnown(value) ? value : new Written(String(fallback), () => String(fallback))
})

/** A slip like `as: "weekday", default: "soon"` would lose its fallback without a word. */
function refuseOptions([option]: readonly unknown[]): void {
  if (option === undefined) return
  const name = Array.isArray(option) ? String(option[0]) : JSON.stringify(option)
  throw new Error(`“${name}” cannot stand behind a comma; write it as | ${name}: "…"`)
}

function isKnown(value: unknown): boolean {
  if (value instanceof Unknown) return false
  const plain = value instanceof Drop ? value.valueOf() : value
  return plain !== undefined && plain !== null && plain !== false && plain !== ''
}

liquid.registerFilter('as', (value: unknown, format: unknown, ...options: unknown[]) => {
  refuseOptions(options)
  if (value instanceof Unknown) return value
  const written = value instanceof Written ? value.as(String(format)) : null
  if (written === null) throw new Error(`it cannot be written as "${String(format)}"`)
  return written
})

/** Liquid takes an unknown field only with its fallback first. */
const FALLBACK_LAST =
  /(\|\s*as\s*:\s*(?:"[^"]*"|'[^']*')\s*)(\|\s*default\s*:\s*(?:"[^"]*"|'[^']*')\s*)/g

const FORMATTED = MERGE_FIELDS.filter(({ formats }) => formats !== null)

/** Parsed templates: the same few are filled for thousands, and parsing takes longer than filling. */
const parsed = new Map<string, Template[]>()
const MOST_PARSED = 500

function parse(template: string): Template[] {
  const known = parsed.get(template)
  if (known) return known
  if (parsed.size >= MOST_PARSED) parsed.clear()
  const made = liquid.parse(template.replaceAll(FALLBACK_LAST, '$2$1'))
  parsed.set(template, made)
  return made
}

/** What templates are filled with for one recipient: the merge fields that are known. */
export type Scope = Record<string, Record<string, string | Written | Unknown>>

/** The merge fields of somebody, as templates look them up. `values` are those of `mergeValues`. */
export function scopeOf(facts: Facts, values = mergeValues(facts)): Scope {
  const scope: Scope = {}
  for (const [owner, own] of Object.entries(values)) scope[owner] = { ...own }
  for (const field of FORMATTED) writeIn(scope, field, facts)
  return scope
}

/** For colleagues: a note about somebody without a name is better than none. */
export function sayingWhatIsUnknown(scope: Scope): Scope {
  const all: Scope = {}
  for (const { key, about } of MERGE_FIELDS) {
    const name = key.slice(about.length + 1)
    all[about] = { ...all[about], [name]: scope[about]?.[name] ?? new Unknown() }
  }
  return all
}

function writeIn(scope: Scope, { key, about, print }: MergeField, facts: Facts): void {
  const name = key.slice(about.length + 1)
  const own = scope[about]
  const text = own?.[name]
  if (own && typeof text === 'string') {
    own[name] = new Written(text, (format) => print(facts, format))
  }
}

/** What the template language says, for people: without its lines and columns, with names for keys. */
function reasonOf({ message }: Error): string {
  const [, key] = /^undefined variable: ([\w.]+)/.exec(message) ?? []
  return key === undefined ? message.replace(/, line:\d+(, col:\d+)?$/, '') : unknownField(key)
}

/** Fills a template for one recipient. Throws RenderError with the reason. */
export function renderTemplate(template: string, scope: Scope): string {
  let output: string
  try {
    output = liquid.renderSync(parse(template), scope) as string
  } catch (error) {
    throw new RenderError(reasonOf(error as Error))
  }
  if (output.length > MAX_OUTPUT_CHARACTERS) throw new RenderError('the text is far too long')
  return output
}
