import { messageState } from '../../../backend/messages/index.ts'
import {
  installationTimes,
  largestTables,
  listAlerts,
  watchShop,
  workState,
} from '../../../backend/watch/index.ts'
import { mayOwn } from '../../../contract/roles.ts'
import { statusResponse } from '../../../contract/status.ts'
import type { App, ServerContext } from '../../context.ts'

/** How things stand: what is not as it was, what waits, who works, and how the installation grows. */
export function statusRoutes(app: App, { db }: ServerContext): void {
  app.get(
    '/api/status',
    {
      schema: { response: { 200: statusResponse } },
      config: { rateLimit: { max: 60, timeWindow: '1 minute' } },
    },
    async ({ user: { shopId, role } }) => {
      // Whoever looks sees how it is now; owners are written to by the worker.
      await watchShop(db, shopId)
      const alerts = await listAlerts(db, shopId)
      const { workers, jobs, queueAgeS, dueLagS } = await workState(db)
      return {
        alerts: alerts.map(({ code, about, says, goesTo, since }) => ({ code, about, says, to: goesTo, since })),
        work: { workers, jobs, queueAgeS, dueLagS },
        messages: await messageState(db, shopId),
        installation: mayOwn(role)
          ? { backupAt: (await installationTimes(db)).backup, tables: await largestTables(db) }
          : null,
      }
    },
  )
} // prettier-ignore
