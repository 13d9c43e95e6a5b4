import { forgetChanged } from '../../../backend/changes/index.ts'
import { cohorts, mailHealth, pressure, sending } from '../../../backend/overview/index.ts'
import { holdoutReports } from '../../../backend/workflows/index.ts'
import { findShop, readClock } from '../../../backend/shop/index.ts'
import {
  cohortsResponse,
  holdoutResponse,
  healthResponse,
  pressureResponse,
  sendingResponse,
} from '../../../contract/overview.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'

/** How the shop as a whole is doing. */
export function overviewRoutes(app: App, { db, reading }: ServerContext): void {
  app.get('/api/overview/sending', { schema: { response: { 200: sendingResponse } } }, async ({ user: { shopId } }, reply) => {
    const { now } = await readClock(db, shopId)
    const shop = await findShop(db, shopId)
    await forgetChanged(db, shopId)
    return reading.runAndKeep(askerOf(reply), (tx) => sending(tx, shop, now))
  }) // prettier-ignore

  app.get('/api/overview/health', { schema: { response: { 200: healthResponse } } }, async ({ user: { shopId } }, reply) => {
    const { now } = await readClock(db, shopId)
    return reading.run(askerOf(reply), (tx) => mailHealth(tx, shopId, now))
  }) // prettier-ignore

  app.get('/api/overview/pressure', { schema: { response: { 200: pressureResponse } } }, async ({ user: { shopId } }, reply) => {
    const { now } = await readClock(db, shopId)
    return reading.run(askerOf(reply), (tx) => pressure(tx, shopId, now))
  }) // prettier-ignore

  app.get('/api/overview/cohorts', { schema: { response: { 200: cohortsResponse } } }, async ({ user: { shopId } }, reply) => {
    const { now } = await readClock(db, shopId)
    const shop = await findShop(db, shopId)
    return reading.run(askerOf(reply), (tx) => cohorts(tx, shop, now))
  }) // prettier-ignore

  app.get('/api/overview/holdout', { schema: { response: { 200: holdoutResponse } } }, async ({ user: { shopId } }, reply) => {
    const { now } = await readClock(db, shopId)
    return reading.run(askerOf(reply), async (tx) => ({ reports: await holdoutReports(tx, shopId, now) }))
  }) // prettier-ignore
}
