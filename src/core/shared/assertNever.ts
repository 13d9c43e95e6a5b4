/** Closes a switch over a union: a new member breaks the build here, a rogue value throws. */
export function assertNever(value: never, what: string): never {
  throw new RangeError(`Unknown ${what}: ${JSON.stringify(value)}`)
}
