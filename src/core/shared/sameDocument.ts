/** True when two JSON documents say the same, in whatever order their keys stand. */
export function sameDocument(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b
  const keys = new Set([...Object.keys(a), ...Object.keys(b)])
  return [...keys].every((key) => sameDocument((a as never)[key], (b as never)[key]))
}
