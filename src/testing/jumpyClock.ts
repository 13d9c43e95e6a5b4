/**
 * Loaded ahead of a program, it has the machine's clock jump by up to an hour and a half, forth and back, every second and a
 * half; what the program measures time by is not the database's any more.
 */
const MOST_MS = 90 * 60_000
const EVERY_MS = 1500

const Real = Date
let off = 0
setInterval(() => {
  off = Math.round((Math.random() * 2 - 1) * MOST_MS)
}, EVERY_MS).unref()

globalThis.Date = new Proxy(Real, {
  construct: (target, given: []) =>
    given.length === 0 ? new target(target.now() + off) : new target(...given),
  get: (target, key) =>
    key === 'now' ? () => target.now() + off : (Reflect.get(target, key) as unknown),
})
