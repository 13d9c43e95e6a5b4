import { setImmediate } from 'node:timers/promises'

/** So long something may go on before others get their turn. */
const SLICE_MS = 10

/** Called between the parts of something long: lets others have their answers once it is their turn. */
export type Turn = () => Promise<void>

/** Turns of one piece of work. `look` is called at each, and may throw to end it. */
export function makeTurns(look: () => void = () => undefined): Turn {
  let began = performance.now()
  return async () => {
    if (performance.now() - began < SLICE_MS) return
    await setImmediate()
    look()
    began = performance.now()
  }
}
