import { sql } from 'drizzle-orm'
import { tableState, workState } from '../../../backend/watch/index.ts'
import { toError } from '../../../backend/platform/errors.ts'
import { readinessResponse, type Readiness } from '../../../contract/watch.ts'
import { MIGRATIONS } from '../../../backend/platform/migrationsFolder.ts'
import type { App, ServerContext } from '../../context.ts'

/** Jobs that nobody takes for so long mean that no worker is at work. */
const LATE_S = 15 * 60

/** For whatever supervises this process: does it live, and can it do its work? */
export function healthRoutes(app: App, { db }: ServerContext): void {
  app.get('/livez', async (_request, reply) => reply.type('text/plain').send('lives\n'))

  app.get(
    '/readyz',
    { schema: { response: { 200: readinessResponse, 503: readinessResponse } } },
    async (_request, reply) => {
      const readiness = await readinessOf(db)
      return reply.status(readiness.ready ? 200 : 503).send(readiness)
    },
  )
}

/** A server without a worker answers all the same: that work is late is said, and no reason to take the server out of service. */
async function readinessOf(db: ServerContext['db']): Promise<Readiness> {
  const checks: Readiness['checks'] = []
  try {
    await db.execute(sql`select 1`)
    checks.push({ name: 'database', ok: true, says: 'answers' })
  } catch (error) {
    checks.push({ name: 'database', ok: false, says: `does not answer: ${reasonOf(error)}` })
    return { ready: false, checks }
  }
  const { pending, isNewer } = await tableState(db, MIGRATIONS)
  const says = pending.length > 0 ? `wait for ${pending.length} changes: run “yomble migrate”` : isNewer ? 'are newer than this program' : 'are up to date' // prettier-ignore
  checks.push({ name: 'tables', ok: pending.length === 0, says })
  if (pending.length > 0) return { ready: false, checks }
  const { queueAgeS, workers } = await workState(db)
  const late = queueAgeS > LATE_S
  checks.push({ name: 'queue', ok: !late, says: late ? `what waits longest has waited ${Math.round(queueAgeS)} s, with ${workers} workers` : 'moves' }) // prettier-ignore
  return { ready: checks.every(({ name, ok }) => ok || name === 'queue'), checks }
}

/** What went wrong without what was asked, which may name people. */
const reasonOf = (error: unknown): string => {
  const { cause, message } = toError(error)
  return cause instanceof Error ? cause.message : message
}
