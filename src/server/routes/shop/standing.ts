import { openDns, shopStanding } from '../../../backend/standing/index.ts'
import { standingsResponse } from '../../../contract/standing.ts'
import type { App, ServerContext } from '../../context.ts'

/** What receivers find when they look up where a shop's messages come from. */
export function standingRoutes(app: App, { db, config }: ServerContext): void {
  app.get(
    '/api/senders/standing',
    {
      schema: { response: { 200: standingsResponse } },
      config: { rateLimit: { max: 30, timeWindow: '1 minute' } },
    },
    async ({ user: { shopId } }) => {
      const dns = openDns(config.DNS_SERVER)
      return { domains: await shopStanding(db, { dns, config, shopId }) }
    },
  )
}
