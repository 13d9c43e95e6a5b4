import { createSocket } from 'node:dgram'
import { once } from 'node:events'
import { AUTHORITATIVE_ANSWER, decode, encode, type Answer, type Packet } from 'dns-packet'

/** What a name server knows: by name and type, as `combwright.example TXT`. */
export type Zone = Readonly<Record<string, readonly Answer[]>>

export interface SimulatedDnsServer {
  /** As `host:port`. */
  address: string
  close: () => Promise<void>
}

/** Codes of answers (RFC 1035 section 4.1.1). */
const NO_SUCH_NAME = 3
const NO_ANSWER = 2

/**
 * A small name server on loopback (RFC 1035, over UDP) that stands in for the world's. It knows what `zone` says at the moment it is
 * asked; names with `broken` in them are answered by SERVFAIL, everything else does not exist.
 */
export async function startDnsServer(zone: () => Zone): Promise<SimulatedDnsServer> {
  const socket = createSocket('udp4')
  socket.on('message', (bytes, from) => {
    const { id, questions = [] } = decode(bytes)
    const [question] = questions
    if (!question) return
    const name = question.name.toLowerCase()
    const known = zone()
    const answers = known[`${name} ${question.type}`] ?? []
    const exists = Object.keys(known).some((one) => one.startsWith(`${name} `))
    const code = name.split('.').includes('broken') ? NO_ANSWER : exists ? 0 : NO_SUCH_NAME
    const answer: Packet = {
      type: 'response',
      ...(id !== undefined && { id }),
      flags: AUTHORITATIVE_ANSWER | code,
      questions,
      answers: [...answers],
    }
    socket.send(encode(answer), from.port, from.address)
  })
  socket.bind(0, '127.0.0.1')
  await once(socket, 'listening')
  return {
    address: `127.0.0.1:${socket.address().port}`,
    close: () => new Promise((resolve) => socket.close(() => resolve())),
  }
}

/** Records of a zone, as short as they are read. */
export const txt = (name: string, ...texts: string[]): Zone => ({
  [`${name} TXT`]: texts.map((text) => ({ type: 'TXT', name, ttl: 300, data: piecesOf(text) })),
})
export const mx = (name: string, exchange: string, preference = 10): Zone => ({
  [`${name} MX`]: [{ type: 'MX', name, ttl: 300, data: { preference, exchange } }],
})
export const a = (name: string, ...ips: string[]): Zone => ({
  [`${name} A`]: ips.map((data) => ({ type: 'A', name, ttl: 300, data })),
})

/** A text in pieces of at most 255 bytes (RFC 1035 section 3.3). */
const piecesOf = (text: string): string[] => text.match(/.{1,255}/gs) ?? ['']
