import {
  combinationsBody,
  combinationsResponse,
  countBody,
  countResponse,
} from '../../../contract/counts.ts'
import { isCountable } from '../../../core/conditions/countable.ts'
import { entityOf } from '../../../core/events/eventTypes.ts'
import { countCombinations } from '../../../drivers/past/combinations.ts'
import { countHolding } from '../../../drivers/past/countHolding.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'

/** How many people of the past a condition holds for, while it is edited. */
export function countRoutes(app: App, { reading }: ServerContext): void {
  app.post(
    '/api/conditions/count',
    { schema: { body: countBody, response: { 200: countResponse } }, bodyLimit },
    ({ user, body: { trigger, conditions, afterMs } }, reply) => {
      const when = afterMs === 0 ? 'atOnce' : 'later'
      const countable =
        (!trigger.filter || isCountable(trigger.filter)) &&
        conditions.every((condition) => isCountable(condition, when))
      if (trigger.kind === 'hand' || !countable) return null
      return reading.run(askerOf(reply), (tx) =>
        countHolding(tx, user.shopId, trigger, conditions, afterMs),
      )
    },
  )

  app.post(
    '/api/conditions/combinations',
    {
      schema: { body: combinationsBody, response: { 200: combinationsResponse } },
      bodyLimit,
    },
    ({ user, body: { trigger, branches } }, reply) => {
      const isOfOrders = trigger.kind === 'event' && entityOf(trigger.event) === 'order'
      if (!isOfOrders) return { combinations: [], since: null }
      return reading.run(askerOf(reply), (tx) =>
        countCombinations(tx, user.shopId, trigger, branches),
      )
    },
  )
}
