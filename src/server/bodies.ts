import type { FastifyRequest } from 'fastify'
import { cleanText, cleanTexts, hasOddCharacters } from '../core/shared/plainText.ts'
import { AppError } from '../backend/platform/errors.ts'
import type { App } from './context.ts'

/** What a body may have where a route does not say otherwise: forms, searches, choices. */
export const SMALL_BODY_BYTES = 64 * 1024
/** A workflow with hundreds of designed messages has about half of this. */
export const DOCUMENT_BODY_BYTES = 4 * 1024 * 1024
/** More than a workflow at the limits of its own schema needs. */
const MAX_NESTING = 200

/**
 * Reads JSON with a bound on how deep it nests, looked at before it is parsed: a few megabytes of
 * opening brackets would keep everybody else waiting.
 */
export function readJson(text: string): unknown {
  if (nestsDeeperThan(text, MAX_NESTING)) {
    throw new AppError('bad_input', `This is nested more than ${MAX_NESTING} levels deep, which nothing here needs.`) // prettier-ignore
  }
  try {
    return JSON.parse(text)
  } catch (error) {
    if (error instanceof SyntaxError) {
      throw new AppError('bad_input', `This is not JSON: ${error.message}.`)
    }
    throw error
  }
}

const QUOTE = 0x22
const BACKSLASH = 0x5c
const OPENING = new Set([0x5b, 0x7b])
const CLOSING = new Set([0x5d, 0x7d])

function nestsDeeperThan(text: string, most: number): boolean {
  let depth = 0
  let inString = false
  for (let index = 0; index < text.length; index += 1) {
    const unit = text.charCodeAt(index)
    if (inString) {
      if (unit === BACKSLASH) index += 1
      else if (unit === QUOTE) inString = false
    } else if (unit === QUOTE) inString = true
    else if (OPENING.has(unit)) {
      depth += 1
      if (depth > most) return true
    } else if (CLOSING.has(unit)) depth -= 1
  }
  return false
}

/**
 * How bodies are read: what people write is cleaned as it comes in. Events are the exception; they have
 * ids in them, which are refused with their path instead of being changed.
 */
export function readBodies(app: App): void {
  app.removeContentTypeParser('application/json')
  app.addContentTypeParser('application/json', { parseAs: 'string' }, (request, body, done) => {
    const parsed = parse(body as string)
    if ('error' in parsed) done(parsed.error)
    else done(null, request.routeOptions.config.keepsText ? parsed.value : cleanTexts(parsed.value))
  })
  app.addHook('preValidation', cleanAddress)
}

/** Reads a body; an error is a value, as content type parsers want it. */
export function parse(text: string): { value: unknown } | { error: Error } {
  try {
    return { value: readJson(text) }
  } catch (error) {
    if (error instanceof AppError) return { error }
    throw error
  }
}

/** A path with characters that no id has leads nowhere; in a search they stand for nothing. */
async function cleanAddress(request: FastifyRequest): Promise<void> {
  const params = Object.values((request.params ?? {}) as Record<string, string>)
  if (params.some(hasOddCharacters)) {
    throw new AppError('not_found', 'There is nothing at this address.')
  }
  const query = request.query as Record<string, unknown>
  for (const [name, value] of Object.entries(query)) {
    if (typeof value === 'string') query[name] = cleanText(value)
  }
}

declare module 'fastify' {
  interface FastifyContextConfig {
    /** The route looks at odd characters itself. */
    keepsText?: boolean
  }
}
