import { makeTemplate } from '../src/testing/database.ts'
import { measureBuilder } from './builder.ts'
import { measureConditions } from './conditions.ts'
import { measureIngest } from './ingest.ts'
import { measureMessages } from './messages.ts'
import { measureMemory, measureParked } from './parked.ts'
import { measureRehearsals } from './rehearsals.ts'
import { measureResume } from './resume.ts'
import { ORDERS } from './shop.ts'

await makeTemplate()
console.log(
  `Node.js ${process.version}; ${ORDERS} events, ${ORDERS} due runs; PostgreSQL on this machine\n`,
)
await measureConditions()
measureRehearsals()
await measureIngest()
await measureResume()
await measureParked()
await measureMemory()
await measureMessages()
await measureBuilder()
