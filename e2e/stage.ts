import { fileURLToPath } from 'node:url'
import { createApiKey } from '../src/backend/accounts/index.ts'
import { storeMail, storeText } from '../src/backend/mailbox/index.ts'
import { openDatabase } from '../src/backend/platform/db.ts'
import { makeLog } from '../src/backend/platform/log.ts'
import { importPast } from '../src/backend/shop/index.ts'
import { DAY_MS } from '../src/core/shared/duration.ts'
import { buildApp } from '../src/server/app.ts'
import { startSmsGateway } from '../src/simulated/smsGateway.ts'
import { startSmtpServer } from '../src/simulated/smtpServer.ts'
import { orderEvent, START } from '../src/testing/builders.ts'
import { dropDatabase, makeDatabase, makeTemplate } from '../src/testing/database.ts'
import { addPeople, testConfig } from '../src/testing/people.ts'
import { addShop, SHOP } from '../src/testing/world.ts'
import { startWorker } from '../src/worker/worker.ts'

/** What the browser tests run against: the built application on a small shop of its own. */
const port = Number(process.env['PORT'])
await makeTemplate()
const url = await makeDatabase()
const db = openDatabase(url)
await addShop(db)
await addPeople(db)
await importPast(db, SHOP, productsInOrders())
const smtp = await startSmtpServer(({ raw, recipients }) => storeMail(db, SHOP, raw, recipients))
const gateway = await startSmsGateway((sms) => storeText(db, SHOP, sms))
const log = makeLog('warn')
const publicUrl = `http://localhost:${port}`
const config = testConfig({
  DATABASE_URL: url,
  SMTP_URL: `smtp://127.0.0.1:${smtp.port}`,
  SMS_URL: gateway.url,
  PORT: port,
  PUBLIC_URL: publicUrl,
  LOG_LEVEL: 'warn',
})
const stopWorker = await startWorker({ config, log, onLost: () => process.exit(1) })
const webFolder = fileURLToPath(new URL('../dist/web', import.meta.url))
const app = await buildApp({ db, config, publicUrl, log, webFolder })
await app.listen({ host: '127.0.0.1', port })
const { key } = await createApiKey(db, SHOP, 'from before')
gateway.reportTo({ url: `${publicUrl}/v1/texts/reports`, authorization: `Bearer ${key}` })

process.once('SIGTERM', () => {
  const stop = async () => {
    await app.close()
    await stopWorker()
    await smtp.close()
    await gateway.close()
    await db.$client.end()
    await dropDatabase(url)
  }
  stop().then(
    () => process.exit(0),
    () => process.exit(1),
  )
})

/** Products are known from orders; these belong to a customer that no test uses. */
function productsInOrders() {
  const lines = [
    {
      productId: 'p-hive',
      title: 'National hive, flat pack',
      category: 'Hives & frames',
      quantity: 1,
      unitPriceMinor: 18_900,
    },
    {
      productId: 'p-suit',
      title: 'Ventilated suit',
      category: 'Protective wear',
      quantity: 1,
      unitPriceMinor: 13_900,
    },
    {
      productId: 'p-brush',
      title: 'Bee brush',
      category: 'Tools & smokers',
      quantity: 1,
      unitPriceMinor: 750,
    },
  ]
  const totalMinor = lines.reduce((sum, line) => sum + line.unitPriceMinor, 0)
  const order = { id: 'o-past', number: '1000', customerId: 'c-past', totalMinor, lines }
  const customer = { email: 'past@example.org', firstName: 'Past', lastName: 'Customer' }
  return [
    orderEvent('order.placed', START - 40 * DAY_MS, order, customer),
    orderEvent('order.fulfilled', START - 38 * DAY_MS, order, customer),
  ]
}
