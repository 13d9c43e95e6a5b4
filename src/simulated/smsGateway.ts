import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { z } from 'zod'

/** A text message that came in. */
export interface ReceivedSms {
  id: string
  to: string
  text: string
}

/** Where a sender wants to hear what became of its messages. */
export interface ReportTarget {
  url: string
  /** The Authorization header. */
  authorization: string
}

export interface SimulatedSmsGateway {
  /** Where messages are posted. */
  url: string
  /** Reports what became of messages from now on, and of those taken before. */
  reportTo: (target: ReportTarget) => void
  close: () => Promise<void>
}

const messageSchema = z.object({
  id: z.string().min(1),
  to: z.string().regex(/^\+[1-9]\d{6,14}$/, 'must be a number like +351912345678'),
  text: z.string().min(1),
})

const MAX_BYTES = 20_000

/**
 * A small gateway on loopback that stands in for a provider of text messages. It takes a message once
 * per id; numbers that end in 0000 do not exist, and phones whose number ends in 0001 are never on.
 */
export async function startSmsGateway(
  deliver: (sms: ReceivedSms) => Promise<void>,
  { port = 0, tryAgainMs = 500 } = {},
): Promise<SimulatedSmsGateway> {
  const known = new Set<string>()
  const reports = new Reports(tryAgainMs)
  const take = async (body: string): Promise<{ status: number; answer: object }> => {
    const parsed = messageSchema.safeParse(parseJson(body))
    if (!parsed.success) return { status: 400, answer: { error: z.prettifyError(parsed.error) } }
    const sms = parsed.data
    if (sms.to.endsWith('0000')) return { status: 422, answer: { error: 'no such number' } }
    if (!known.has(sms.id)) {
      await deliver(sms)
      known.add(sms.id)
      reports.add({ id: sms.id, status: sms.to.endsWith('0001') ? 'failed' : 'delivered' })
    }
    return { status: 202, answer: { id: sms.id } }
  }
  const server = createServer((request, response) => {
    const chunks: Buffer[] = []
    let size = 0
    request.on('data', (chunk: Buffer) => {
      size += chunk.length
      if (size > MAX_BYTES) request.destroy()
      chunks.push(chunk)
    })
    request.on('end', () => {
      void take(Buffer.concat(chunks).toString())
        .catch(() => ({ status: 500, answer: { error: 'the message could not be kept' } }))
        .then(({ status, answer }) =>
          response
            .writeHead(status, { 'content-type': 'application/json' })
            .end(JSON.stringify(answer)),
        )
    })
  })
  await new Promise<void>((resolve, reject) => {
    server.on('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/messages`,
    reportTo: (target) => reports.sendTo(target),
    close: () =>
      new Promise((done) => {
        reports.close()
        server.close(() => done())
        server.closeAllConnections()
      }),
  }
}

interface Report {
  id: string
  status: 'delivered' | 'failed'
}

const MOST_TRIES = 6

/** What became of messages, told one after the other once somebody wants to hear it. */
class Reports {
  #target: ReportTarget | null = null
  readonly #waiting: Report[] = []
  readonly #timers = new Set<NodeJS.Timeout>()
  readonly #tryAgainMs: number

  constructor(tryAgainMs: number) {
    this.#tryAgainMs = tryAgainMs
  }

  add(report: Report): void {
    if (this.#target) void this.#tell(this.#target, report, 1)
    else this.#waiting.push(report)
  }

  sendTo(target: ReportTarget): void {
    this.#target = target
    for (const report of this.#waiting.splice(0)) void this.#tell(target, report, 1)
  }

  close(): void {
    for (const timer of this.#timers) clearTimeout(timer)
  }

  /** A sender that is away, or has not noted yet that it sent the message, hears of it again. */
  async #tell(target: ReportTarget, report: Report, attempt: number): Promise<void> {
    const isHeard = await post(target, report)
    if (isHeard || attempt === MOST_TRIES) return
    const timer = setTimeout(() => {
      this.#timers.delete(timer)
      void this.#tell(target, report, attempt + 1)
    }, this.#tryAgainMs * attempt)
    this.#timers.add(timer)
  }
}

async function post({ url, authorization }: ReportTarget, report: Report): Promise<boolean> {
  const body = JSON.stringify(report)
  const headers = { 'content-type': 'application/json', authorization }
  return fetch(url, { method: 'POST', headers, body }).then(
    ({ ok }) => ok,
    () => false,
  )
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}
