import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { createRequire } from 'node:module'
import { z } from 'zod'

/** Longer than any mapping of one body takes. */
const LONGEST_MS = 1000
const MOST_MEGABYTES = 64

/** What an expression made of a body, or why it made nothing. */
export type Mapped = { ok: true; value: unknown } | { ok: false; message: string }

/**
 * What runs in a process of its own: somebody else's expression may loop for ever or eat memory, and must not take the server
 * with it. A thread would not do: one that runs out of memory ends the whole process. It knows nothing of the server's
 * environment, and loads nothing but JSONata.
 */
const PROGRAM = `
const jsonata = require(process.argv[1])
process.on('message', async ({ mapping, body }) => {
  try {
    const value = await jsonata(mapping).evaluate(JSON.parse(body))
    process.send({ ok: true, text: JSON.stringify(value === undefined ? null : value) })
  } catch (error) {
    const at = typeof error.position === 'number' ? ' (at character ' + error.position + ')' : ''
    process.send({ ok: false, message: String(error.message) + at })
  }
})
process.on('disconnect', () => process.exit())
process.send('ready')
`

const JSONATA = createRequire(import.meta.url).resolve('jsonata')

const answer = z.discriminatedUnion('ok', [
  z.object({ ok: z.literal(true), text: z.string() }),
  z.object({ ok: z.literal(false), message: z.string() }),
])

/** Evaluates mappings, one after another, each within its bounds of time and memory. */
export class Evaluator {
  #child: ChildProcess | null = null
  #last: Promise<unknown> = Promise.resolve()

  /** What an expression makes of a body. */
  evaluate(mapping: string, body: string): Promise<Mapped> {
    const mine = this.#last.then(() => this.#ask(mapping, body))
    this.#last = mine
    return mine
  }

  async #ask(mapping: string, body: string): Promise<Mapped> {
    const child = (this.#child ??= await startChild())
    const outcome = await new Promise<Mapped | 'late' | 'gone'>((resolve) => {
      const timer = setTimeout(() => settle('late'), LONGEST_MS)
      const onMessage = (message: unknown) => {
        const read = answer.parse(message)
        settle(read.ok ? { ok: true, value: JSON.parse(read.text) as unknown } : read)
      }
      const onExit = () => settle('gone')
      const settle = (how: Mapped | 'late' | 'gone') => {
        clearTimeout(timer)
        child.off('message', onMessage).off('exit', onExit)
        resolve(how)
      }
      child.on('message', onMessage).on('exit', onExit)
      child.send({ mapping, body }, (error) => error && settle('gone'))
    })
    if (outcome !== 'late' && outcome !== 'gone') return outcome
    // It is still at it, or gone: the next gets a process of its own.
    await this.close()
    return { ok: false, message: ENDED[outcome] }
  }

  /** Ends the process. A mapping that is asked for afterwards gets another. */
  async close(): Promise<void> {
    const child = this.#child
    this.#child = null
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const gone = once(child, 'exit')
    child.kill('SIGKILL')
    await gone
  }
}

const ENDED = {
  late: `The mapping took longer than ${LONGEST_MS / 1000} s, and was ended.`,
  gone: `The mapping took more than ${MOST_MEGABYTES} MB of memory, and was ended.`,
} as const

/** Starts the process, and waits until it listens: that is no time of the mapping's. */
async function startChild(): Promise<ChildProcess> {
  const child = spawn(
    process.execPath,
    [`--max-old-space-size=${MOST_MEGABYTES}`, '-e', PROGRAM, JSONATA],
    { stdio: ['ignore', 'ignore', 'ignore', 'ipc'], env: {} },
  )
  // It keeps no process alive that has nothing else to do.
  child.unref()
  child.channel?.unref()
  child.on('error', () => undefined)
  await Promise.race([once(child, 'message'), once(child, 'exit')])
  return child
}
