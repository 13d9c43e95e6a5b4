import {
  combinationsBody,
  combinationsResponse,
  countBody,
  countResponse,
} from '../../contract/counts.ts'
import { isCountable } from '../../core/conditions/countable.ts'
import { entityOf } from '../../core/events/eventTypes.ts'
import { countCombinations } from '../../drivers/past/combinations.ts'
import { countHolding } from '../../drivers/past/countHolding.ts'
import type { App, ServerContext } from '../context.ts'

/** How many people of the past a condition holds for, while it is edited. */
export function countRoutes(app: App, { db }: ServerContext): void {
  app.post(
    '/api/conditions/count',
    { schema: { body: countBody, response: { 200: countResponse } } },
    ({ user, body: { trigger, conditions, afterMs } }) => {
      const when = afterMs === 0 ? 'atOnce' : 'later'
      const countable =
        (!trigger.filter || isCountable(trigger.filter)) &&
        conditions.every((condition) => isCountable(condition, when))
      if (trigger.kind === 'hand' || !countable) return null
      return countHolding(db, user.shopId, trigger, conditions, afterMs)
    },
  )

  app.post(
    '/api/conditions/combinations',
    { schema: { body: combinationsBody, response: { 200: combinationsResponse } } },
    ({ user, body: { trigger, branches } }) => {
      const isOfOrders = trigger.kind === 'event' && entityOf(trigger.event) === 'order'
      return isOfOrders ? countCombinations(db, user.shopId, trigger, branches) : []
    },
  )
}
