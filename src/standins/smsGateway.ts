import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { z } from 'zod'

/** A text message that came in. */
export interface ReceivedSms {
  id: string
  to: string
  text: string
}

export interface SmsStandIn {
  /** Where messages are posted. */
  url: string
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
 * per id; numbers that end in 0000 do not exist.
 */
export async function startSmsGateway(
  deliver: (sms: ReceivedSms) => Promise<void>,
  { port = 0 } = {},
): Promise<SmsStandIn> {
  const known = new Set<string>()
  const take = async (body: string): Promise<{ status: number; answer: object }> => {
    const parsed = messageSchema.safeParse(parseJson(body))
    if (!parsed.success) return { status: 400, answer: { error: z.prettifyError(parsed.error) } }
    const sms = parsed.data
    if (sms.to.endsWith('0000')) return { status: 422, answer: { error: 'no such number' } }
    if (!known.has(sms.id)) await deliver(sms)
    known.add(sms.id)
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
    close: () =>
      new Promise((done) => {
        server.close(() => done())
        server.closeAllConnections()
      }),
  }
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}
