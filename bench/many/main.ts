import { makeTemplate } from '../../src/testing/database.ts'
import { startSink } from './sink.ts'
import { makeShops, SHOPS } from './shops.ts'
import { measureIdle } from './idle.ts'
import { measureStorm } from './storm.ts'
import { measureWorkers } from './workers.ts'

await makeTemplate()
const sink = await startSink()
console.log(`Node.js ${process.version}; ${SHOPS.toLocaleString('en')} shops in one PostgreSQL on this machine\n`) // prettier-ignore
const shops = await makeShops()
try {
  await measureIdle(shops, sink)
  await measureStorm(shops, sink)
  await measureWorkers(shops, sink)
} finally {
  await shops.close()
  sink.close()
}
