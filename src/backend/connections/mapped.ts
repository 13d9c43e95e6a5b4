import { createHash } from 'node:crypto'
import { z } from 'zod'
import type { Evaluator } from './evaluate.ts'

/** What a mapping has to give: an event, or a list of them. The envelope is filled in. */
const mappedEvent = z.looseObject({
  type: z.string({ error: 'must name a type of event' }),
  id: z.union([z.string(), z.number()]).optional(),
  time: z.string().optional(),
  data: z.looseObject({}, { error: 'must hold what the event is about' }),
})

export interface MappedBody {
  events: object[]
  problems: { path: string; message: string }[]
}

const MOST = 1000

/** The events that a mapping makes of a body, with what is wrong with those that are none. */
export async function mapBody(
  evaluator: Evaluator,
  { connectionId, mapping, body }: { connectionId: string; mapping: string; body: string },
): Promise<MappedBody> {
  const refuse = (path: string, message: string): MappedBody => ({ events: [], problems: [{ path, message }] }) // prettier-ignore
  if (mapping.trim() === '') return refuse('mapping', 'is not written yet')
  if (!isJson(body)) return refuse('body', 'is not JSON')
  const mapped = await evaluator.evaluate(mapping, body)
  if (!mapped.ok) return refuse('mapping', mapped.message)
  // Nothing: what came is of no interest here.
  if (mapped.value === null) return { events: [], problems: [] }
  const list: unknown[] = Array.isArray(mapped.value) ? mapped.value : [mapped.value]
  if (list.length > MOST) return refuse('mapping', `makes more than ${MOST} events of one body`)
  const made: MappedBody = { events: [], problems: [] }
  const digest = createHash('sha256').update(body).digest('base64url').slice(0, 22)
  for (const [index, one] of list.entries()) {
    const read = mappedEvent.safeParse(one)
    if (!read.success) {
      made.problems.push(...read.error.issues.map(({ path, message }) => ({ path: [index, ...path].join('.'), message }))) // prettier-ignore
      continue
    }
    const { id = `${digest}-${index}`, ...event } = read.data
    made.events.push({ ...event, specversion: '1.0', source: `yomble:connection:${connectionId}`, id: String(id) }) // prettier-ignore
  }
  return made
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text)
    return true
  } catch {
    return false
  }
}
