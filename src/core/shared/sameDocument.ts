/** True when two JSON documents say the same, in whatever order their keys stand. */
export function sameDocument(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b
  const has = (key: string) => sameDocument((a as never)[key], (b as never)[key])
  return Object.keys(a).every(has) && Object.keys(b).every((key) => key in a || has(key))
}
