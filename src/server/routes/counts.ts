import { countBody, countResponse } from '../../contract/counts.ts'
import { isCountable } from '../../core/conditions/countable.ts'
import { countHolding } from '../../drivers/past/countHolding.ts'
import type { App, ServerContext } from '../context.ts'

/** How many people of the past a condition holds for, while it is edited. */
export function countRoutes(app: App, { db }: ServerContext): void {
  app.post(
    '/api/conditions/count',
    { schema: { body: countBody, response: { 200: countResponse } } },
    ({ user, body: { trigger, conditions } }) => {
      const filter = trigger.filter ? [trigger.filter] : []
      const countable = [...filter, ...conditions].every(isCountable)
      if (trigger.kind !== 'event' || !countable) return null
      return countHolding(db, user.shopId, trigger, conditions)
    },
  )
}
