import type { FastifyRequest } from 'fastify'
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client'
import { openMessages, workState } from '../../../backend/watch/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { sameSecret } from '../../../backend/platform/sameSecret.ts'
import type { App, ServerContext } from '../../context.ts'

/** The figures of a server in the text format of Prometheus: requests and events of its own, and how work stands in the database. */
export function metricsRoutes(app: App, { db, config }: ServerContext): void {
  const register = new Registry()
  collectDefaultMetrics({ register })
  const registers = [register]
  const requests = new Histogram({
    name: 'yomble_http_request_seconds',
    help: 'How long requests took, by route and status.',
    labelNames: ['method', 'route', 'status'],
    buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10],
    registers,
  })
  const gauge = (name: string, help: string, labelNames: string[] = []) =>
    new Gauge({ name, help, labelNames, registers })
  const queueAge = gauge('yomble_queue_age_seconds', 'How long the job that waits longest could have been done.') // prettier-ignore
  const jobs = gauge('yomble_jobs', 'Jobs that wait or are being done.')
  const workers = gauge('yomble_workers', 'Workers that live.')
  const dueLag = gauge('yomble_due_lag_seconds', 'By how much the run that is due longest is late, over shops that go by real time.') // prettier-ignore
  const open = gauge('yomble_messages_open', 'Messages that have not left, by how they stand.', ['status']) // prettier-ignore
  const pool = gauge('yomble_database_connections', 'Connections of this server, by what they do.', ['state']) // prettier-ignore

  app.addHook('onResponse', async (request, reply) => {
    const route = request.routeOptions.url ?? 'none'
    requests.observe({ method: request.method, route, status: reply.statusCode }, reply.elapsedTime / 1000) // prettier-ignore
  })

  app.get('/metrics', { onRequest: mayAsk(config.METRICS_TOKEN) }, async (_request, reply) => {
    const state = await workState(db)
    queueAge.set(state.queueAgeS)
    jobs.set(state.jobs)
    workers.set(state.workers)
    dueLag.set(state.dueLagS)
    open.reset()
    for (const { status, count } of await openMessages(db)) open.set({ status }, count)
    const { totalCount, idleCount, waitingCount } = db.$client
    pool.set({ state: 'busy' }, totalCount - idleCount)
    pool.set({ state: 'idle' }, idleCount)
    pool.set({ state: 'waited for' }, waitingCount)
    return reply.type(register.contentType).send(await register.metrics())
  })
}

const OWN = new Set(['127.0.0.1', '::1', '::ffff:127.0.0.1'])

/** Lets through who has the token; where there is none, who asks from this machine. */
function mayAsk(token: string | undefined) {
  return async (request: FastifyRequest): Promise<void> => {
    const given = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1]
    if (token === undefined ? isOwn(request) : given !== undefined && sameSecret(given, token))
      return
    throw new AppError('not_allowed', 'Metrics are for who watches this server: send METRICS_TOKEN as “Authorization: Bearer …”.') // prettier-ignore
  }
}

/** What a proxy on this machine hands on seems to come from here, too; it says for whom. */
const isOwn = ({ ip, headers }: FastifyRequest): boolean =>
  OWN.has(ip) && headers['x-forwarded-for'] === undefined && headers.forwarded === undefined
