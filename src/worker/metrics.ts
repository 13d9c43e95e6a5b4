import { createServer } from 'node:http'
import { collectDefaultMetrics, Counter, Registry } from 'prom-client'
import type { Config } from '../backend/platform/config.ts'
import { sameSecret } from '../backend/platform/sameSecret.ts'
import { listen } from '../drivers/live/watched.ts'

const OWN: ReadonlySet<string> = new Set(['127.0.0.1', '::1', '::ffff:127.0.0.1'])

/**
 * The figures of a worker, in the text format of Prometheus, at `WORKER_PORT`: what it handed over, by how and what came of it, and
 * what gates kept back. Answers `/livez` besides. Does nothing where no port is set. Returns what stops it.
 */
export async function serveMetrics(
  config: Pick<Config, 'HOST' | 'WORKER_PORT' | 'METRICS_TOKEN'>,
): Promise<{ port: number | null; stop: () => Promise<void> }> {
  const { HOST, WORKER_PORT, METRICS_TOKEN } = config
  if (WORKER_PORT === undefined) return { port: null, stop: async () => undefined }
  const register = figures()
  const server = createServer((request, response) => {
    const answer = (status: number, type: string, text: string) => {
      response.writeHead(status, { 'content-type': type, 'x-content-type-options': 'nosniff' }).end(text) // prettier-ignore
    }
    const path = request.method === 'GET' ? request.url : ''
    if (path === '/livez') return answer(200, 'text/plain', 'lives\n')
    if (path !== '/metrics') return answer(404, 'text/plain', 'There is nothing here.\n')
    const given = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1]
    const isOwn = OWN.has(request.socket.remoteAddress ?? '') && request.headers['x-forwarded-for'] === undefined // prettier-ignore
    const mayAsk = METRICS_TOKEN === undefined ? isOwn : given !== undefined && sameSecret(given, METRICS_TOKEN) // prettier-ignore
    if (!mayAsk) return answer(403, 'text/plain', 'Send METRICS_TOKEN as “Authorization: Bearer …”.\n') // prettier-ignore
    register.metrics().then(
      (text) => answer(200, register.contentType, text),
      () => answer(500, 'text/plain', 'The figures cannot be read.\n'),
    )
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(WORKER_PORT, HOST, resolve)
  })
  const address = server.address()
  return {
    port: typeof address === 'object' && address !== null ? address.port : null,
    stop: () => new Promise((resolve) => server.close(() => resolve())),
  }
}

function figures(): Registry {
  const register = new Registry()
  collectDefaultMetrics({ register })
  const registers = [register]
  const sends = new Counter({ name: 'yomble_sends_total', help: 'Messages that were handed over, by channel and by what came of it.', labelNames: ['channel', 'result'], registers }) // prettier-ignore
  const gates = new Counter({ name: 'yomble_gates_total', help: 'Messages that a gate kept back, by why.', labelNames: ['reason'], registers }) // prettier-ignore
  listen('handedOver', ({ channel, result }) => sends.inc({ channel, result }))
  listen('passedOver', ({ reason }) => gates.inc({ reason }))
  return register
}
