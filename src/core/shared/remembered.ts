/**
 * A function that keeps what it has found about an object for as long as the object is there. Only
 * for what is never changed in place, and for answers that follow from the object alone.
 */
export function remembered<Subject extends object, Found>(
  find: (about: Subject) => Found,
): (about: Subject) => Found {
  const known = new WeakMap<Subject, { found: Found }>()
  return (about) => {
    const before = known.get(about)
    if (before) return before.found
    const found = find(about)
    known.set(about, { found })
    return found
  }
}
