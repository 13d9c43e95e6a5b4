/** A value that was changed, as it is written; left out where there was, or is, none. */
export interface Change {
  name: string
  from?: string
  to?: string
}

const MOST_CHARACTERS = 300

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** In what two states of something differ, member by member; what the later one does not name was left as it was. */
export function changesIn(before: unknown, after: unknown): Change[] {
  if (!isObject(after)) return isObject(before) ? members(before).map(([name, value]) => ({ name, from: written(value) })) : [] // prettier-ignore
  const was = isObject(before) ? before : {}
  return members(after).flatMap(([name, value]) => {
    const to = written(value)
    const from = name in was ? written(was[name]) : undefined
    if (from === to) return []
    return [{ name, to, ...(from !== undefined && { from }) }]
  })
}

const members = (of: Record<string, unknown>): [name: string, value: unknown][] =>
  Object.entries(of).filter(([, value]) => value !== undefined)

function written(value: unknown): string {
  const text = typeof value === 'string' ? value : JSON.stringify(value)
  return text.length > MOST_CHARACTERS ? `${text.slice(0, MOST_CHARACTERS)} …` : text
}
